import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { api } from '../api/client'
import { keys } from '../api/keys'
import type { components } from '../api/schema'
import { HeldTable } from '../inspect/HeldTable'
import { Problems } from '../parts/Frame'
import { words } from '../words'
import { Course } from './Course'
import { Heard } from './Heard'

const w = words.rehearse

/** One report of a rehearsal, folded; it says of which state of the rig it is. */
export function Report({ of: r, newest }: { of: components['schemas']['Reported']; newest: number }) {
  const [open, setOpen] = useState(false)
  const one = useQuery({ queryKey: keys.report(r.id), queryFn: () => api.report(r.id), enabled: open })
  const at = new Date(r.at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })
  return (
    <details
      className="border-b border-hair py-1"
      onToggle={(e) => setOpen((e.currentTarget as HTMLDetailsElement).open)}
    >
      <summary className="cursor-pointer">
        {at}, {r.name}{' '}
        {r.revision < newest && (
          <Link className="text-sm" to={`/rigs/${r.rig}?revision=${r.revision}`}>
            {w.asItWas(r.revision)}
          </Link>
        )}
      </summary>
      {one.error && <Problems error={one.error} />}
      {one.data?.was && (
        <div className="py-2">
          <p className="font-semibold">{one.data.was.sentence}</p>
          <Course going={one.data.was.going} arrived={one.data.was.arrived} />
          {one.data.was.held && <HeldTable held={one.data.was.held} said={one.data.was.sentence} />}
          <Heard now={one.data.was} />
          <ul className="mt-2 text-sm">
            {one.data.was.going.dips.map((d, i) => (
              <li key={i}>{d.says}</li>
            ))}
          </ul>
        </div>
      )}
    </details>
  )
}

import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, type Failure, type Listed } from '../api/client'
import { keys } from '../api/keys'
import { Problems } from '../parts/Frame'
import { words } from '../words'

const w = words.list

/** What was deleted, with the way back: nothing is lost. */
export function Bin({ restore }: { restore: (r: Listed) => void }) {
  const [open, setOpen] = useState(false)
  const gone = useQuery({ queryKey: keys.deletedRigs, queryFn: () => api.rigs(true), enabled: open })
  return (
    <details className="mt-8" data-testid="bin" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer text-sm text-muted">{w.bin}</summary>
      {gone.error && <Problems error={gone.error as Failure} />}
      {gone.data?.length === 0 && <p className="mt-2 text-sm text-muted">{w.binEmpty}</p>}
      <ul className="mt-2">
        {gone.data?.map((r) => (
          <li key={r.id} className="flex flex-wrap items-baseline gap-x-5 border-b border-hair py-2 text-sm">
            <Link to={`/rigs/${r.id}`} className="quiet min-w-0 flex-1 basis-60 break-words">
              {r.name}
            </Link>
            <span className="text-muted">
              {r.deletedAt &&
                w.deletedOn(new Date(r.deletedAt).toLocaleDateString('en-GB', { dateStyle: 'medium' }))}
            </span>
            <button
              className="quiet"
              aria-label={`${words.board.bringBack}: ${r.name}`}
              onClick={() => restore(r)}
            >
              {words.board.bringBack}
            </button>
          </li>
        ))}
      </ul>
    </details>
  )
}

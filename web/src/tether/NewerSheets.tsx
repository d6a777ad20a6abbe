import { useQuery } from '@tanstack/react-query'
import { api } from '../api/client'
import { keys } from '../api/keys'
import { words } from '../words'
import type { Change } from '../parts/change'

const w = words.board

/** Sheets the shelf knows better than this rig, each offered as one edit that names what changes. */
export function NewerSheets({
  id,
  revision,
  hold,
}: {
  id: string
  revision: number
  hold: (h: Change) => void
}) {
  const newer = useQuery({ queryKey: keys.newer(id, revision), queryFn: () => api.newer(id) })
  if (!newer.data?.length) return null
  return (
    <details className="mt-4 border-l-2 border-ink bg-wash px-4 py-2 text-sm" data-testid="newer">
      <summary className="font-semibold">{w.newer(newer.data.length)}</summary>
      <ul>
        {newer.data.map((n) => (
          <li key={n.item} className="flex flex-wrap items-baseline gap-x-3 py-1">
            <span className="font-semibold">{n.label}</span>
            <span className="text-muted">
              {n.changes.map((c) => `${c.field}: ${c.was} → ${c.is}`).join('; ')}
            </span>
            <button
              className="quiet ml-auto font-semibold"
              aria-label={w.takes(n.label)}
              onClick={() => hold({ edits: n.edits, what: w.takes(n.label) })}
            >
              {w.takeIt}
            </button>
          </li>
        ))}
      </ul>
    </details>
  )
}

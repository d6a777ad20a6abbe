import { words } from '../words'

const w = words.board

/** The board while it is fetched. */
export function Loading() {
  return (
    <div role="status">
      <p className="text-muted">{w.loading}</p>
      <svg width="100%" height="200" aria-hidden="true" className="mt-6 opacity-40">
        {[30, 90, 150].map((y) => (
          <line
            key={y}
            x1="10"
            x2="98%"
            y1={y}
            y2={y}
            className="rope untested"
            strokeWidth="4"
            strokeDasharray="0 12"
          />
        ))}
      </svg>
    </div>
  )
}

import type { State } from '../api/client'
import { type Point, strand } from './rope'

/** One line of the board: its state can be read by shape alone. */
export function Rope({
  a,
  b,
  state,
  room,
  thin = false,
}: {
  a: Point
  b: Point
  state: State
  room: number
  thin?: boolean
}) {
  const s = strand(a, b, state, room)
  const width = (state === 'taut' ? 3.6 : state === 'untested' ? 4 : 3.2) * (thin ? 0.6 : 1)
  return (
    <g className="settle">
      {s.pieces.map((d, i) => (
        <g key={i}>
          <path
            className={`rope ${state}`}
            d={d}
            strokeWidth={width}
            strokeDasharray={state === 'untested' ? `0 ${width * 2.3}` : undefined}
          />
          {state === 'slack' && !thin && (
            <path className="rope-twist" d={d} strokeWidth={1.1} strokeDasharray="1.5 5" />
          )}
        </g>
      ))}
      {s.frays.map((d, i) => (
        <path key={i} className={`rope ${state}`} d={d} strokeWidth={1.2} />
      ))}
    </g>
  )
}

/** A little line for lists: the same five shapes. */
export function Glyph({ state, room = 0.7 }: { state: State; room?: number }) {
  return (
    <svg width="44" height="22" viewBox="0 0 44 22" aria-hidden="true" className="shrink-0 overflow-visible">
      <Rope a={{ x: 4, y: 9 }} b={{ x: 40, y: 9 }} state={state} room={room} />
      <circle cx="3.5" cy="9" r="2.5" fill="var(--ink)" />
      <circle cx="40.5" cy="9" r="2.5" fill="var(--ink)" />
    </svg>
  )
}

import { scaleLinear } from 'd3-scale'
import type { Sounding } from '../api/client'
import { words } from '../words'

const w = words.sound
const [wide, left, row] = [600, 200, 26]

/** Sound against picture on one scale, with both published windows behind it. */
export function Sync({ sound }: { sound: Sounding }) {
  const ways = sound.plan!.paths.filter((p) => p.on === 'air')
  const far = Math.max(200, ...ways.flatMap((p) => [Math.abs(p.offset.low), Math.abs(p.offset.high)]))
  const x = scaleLinear()
    .domain([-far, far])
    .nice()
    .range([left, wide - 10])
  const high = ways.length * row + 40
  return (
    <section data-testid="sync">
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.sync}</h2>
      <svg viewBox={`0 0 ${wide} ${high}`} className="mt-2 w-full" role="img" aria-label={w.sync}>
        {sound.windows
          .filter((win) => win.means !== 'noticed')
          .reverse()
          .map((win) => (
            <rect
              key={win.means}
              x={x(-win.early)}
              width={x(win.late) - x(-win.early)}
              y={0}
              height={ways.length * row + 8}
              fill={
                win.means === 'tight'
                  ? 'color-mix(in srgb, var(--slack) 28%, transparent)'
                  : 'color-mix(in srgb, var(--taut) 14%, transparent)'
              }
            />
          ))}
        <line x1={x(0)} x2={x(0)} y1={0} y2={ways.length * row + 8} stroke="var(--muted)" />
        {ways.map((p, i) => (
          <g key={p.index}>
            <text x={0} y={i * row + 19} fontSize="12" fill="var(--ink)">
              {p.name.length > 32 ? p.name.slice(0, 31) + '…' : p.name}
              <title>{p.name}</title>
            </text>
            <line
              x1={x(p.offset.low)}
              x2={x(p.offset.high)}
              y1={i * row + 15}
              y2={i * row + 15}
              stroke="var(--ink)"
              strokeWidth={p.measured ? 3 : 2}
              strokeDasharray={p.measured ? undefined : '1 4'}
              strokeLinecap="round"
            />
            <circle cx={x(p.offset.value)} cy={i * row + 15} r={4} fill="var(--ink)" />
          </g>
        ))}
        {x.ticks(7).map((t) => (
          <text key={t} x={x(t)} y={high - 18} fontSize="11" textAnchor="middle" fill="var(--muted)">
            {t === 0 ? '0' : Math.abs(t)}
          </text>
        ))}
        <text x={left} y={high - 4} fontSize="11" fill="var(--muted)">
          ← {w.early}, {w.ms}
        </text>
        <text x={wide - 10} y={high - 4} fontSize="11" textAnchor="end" fill="var(--muted)">
          {w.late}, {w.ms} →
        </text>
      </svg>
      <ul className="text-sm text-muted">
        {sound.windows.map((win) => (
          <li key={win.means}>
            {w.windows[win.means]} {win.early} {w.early} – {win.late} {w.late} ({win.source})
          </li>
        ))}
      </ul>
    </section>
  )
}

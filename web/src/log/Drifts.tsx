import { scaleTime, scaleLinear } from 'd3-scale'
import { words } from '../words'
import { Season, day } from './season'

const w = words.log

export function Drift({ d }: { d: Season['drift'][number] }) {
  const values = d.points.map((p) => p.value)
  const x = scaleTime()
    .domain([d.points[0]!.at, d.points[d.points.length - 1]!.at])
    .range([36, 330])
  const y = scaleLinear()
    .domain([Math.min(0, ...values), Math.max(...values)])
    .nice()
    .range([108, 8])
  return (
    <figure className="mt-2">
      <figcaption className="text-sm">
        <b>
          {d.what}
          {d.of ? ` · ${d.of}` : ''}
        </b>{' '}
        {d.certain
          ? w.slope(
              (d.perMonth > 0 ? '+' : '−') + String(Math.abs(Math.round(d.perMonth * 100) / 100)),
              d.unit ?? '',
            )
          : w.uncertain}
      </figcaption>
      <svg viewBox="0 0 340 124" className="w-full" role="img" aria-label={d.what}>
        {y.ticks(4).map((t) => (
          <g key={t}>
            <line x1={36} x2={330} y1={y(t)} y2={y(t)} stroke="var(--hair)" />
            <text x={30} y={y(t) + 4} fontSize="11" textAnchor="end" fill="var(--muted)">
              {t}
            </text>
          </g>
        ))}
        <polyline
          points={d.points.map((p) => `${x(p.at)},${y(p.value)}`).join(' ')}
          fill="none"
          stroke="var(--thread)"
          strokeWidth={1.5}
        />
        {d.points.map((p) => (
          <circle key={p.at} cx={x(p.at)} cy={y(p.value)} r={2.5} fill="var(--ink)">
            <title>{`${day(p.at)}: ${p.value} ${d.unit ?? ''}`}</title>
          </circle>
        ))}
        <text x={36} y={121} fontSize="11" fill="var(--muted)">
          {day(d.points[0]!.at)}
        </text>
        <text x={330} y={121} fontSize="11" textAnchor="end" fill="var(--muted)">
          {day(d.points[d.points.length - 1]!.at)}
        </text>
      </svg>
      <details className="text-sm">
        <summary className="cursor-pointer text-muted">{w.table}</summary>
        <p className="columns-2">
          {d.points.map((p) => (
            <span key={p.at} className="block tabular-nums">
              {day(p.at)} {p.value} {d.unit}
            </span>
          ))}
        </p>
      </details>
    </figure>
  )
}
export function Drifts({ season: s }: { season: Season }) {
  const some = s.drift.filter((d) => d.points.length > 2).slice(0, 4)
  if (some.length === 0) return null
  return (
    <section>
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.drift}</h2>
      <div className="grid gap-x-8 gap-y-4 sm:grid-cols-2">
        {some.map((d) => (
          <Drift key={d.what + (d.of ?? '') + (d.unit ?? '')} d={d} />
        ))}
      </div>
    </section>
  )
}

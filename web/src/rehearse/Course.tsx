import { scaleLinear } from 'd3-scale'
import type { components } from '../api/schema'
import { words } from '../words'

const w = words.rehearse

const wide = 640
const tall = 120
const left = 56
const right = 16

/** How a stream came in, second by second: its rate, how late it is, when nothing came, and what the far end did. */
export function Course({
  going: g,
  arrived: a,
}: {
  going: components['schemas']['Going']
  arrived: components['schemas']['Arrived']
}) {
  const s = g.seconds
  const from = s[0]?.at ?? 0
  const to = Math.max(from + 20, s.at(-1)?.at ?? 0)
  const x = scaleLinear()
    .domain([from, to])
    .range([left, wide - right])
  const rate = scaleLinear()
    .domain([0, Math.max(100, ...s.map((v) => v.kbps))])
    .range([tall, 22])
    .nice(3)
  const late = scaleLinear()
    .domain([0, Math.max(2, ...s.map((v) => v.behind))])
    .range([tall + 74, tall + 34])
    .nice(2)
  const full = s.slice(0, -1) // the last second is still coming
  const path = (y: (v: (typeof s)[number]) => number) =>
    full.map((v, i) => `${i ? 'L' : 'M'}${x(v.at)} ${y(v)}`).join('')
  const figures = [
    [w.connection, g.connected ? w.lasts(g.lasts) : g.connections > 0 ? w.gone : w.nobody],
    [w.silent, g.connections > 0 ? w.seconds(g.silent) : '–'],
    [w.behind, g.connections > 0 ? w.seconds(g.behind) : '–'],
    [w.lost, String(g.lost)],
    [w.stalls, String(g.stalls.length)],
    [w.connections, String(g.connections)],
    [w.skew, a.came.frames > 0 && a.audio ? w.ms(a.came.skewMs) : '–'],
  ]
  return (
    <figure data-testid="course">
      <dl className="flex flex-wrap gap-x-6 gap-y-1 text-sm">
        {figures.map(([what, says]) => (
          <div key={what}>
            <dt className="text-muted">{what}</dt>
            <dd className="tabular-nums">{says}</dd>
          </div>
        ))}
      </dl>
      <div className="overflow-x-auto">
        <svg
          viewBox={`0 0 ${wide} ${tall + 92}`}
          role="img"
          aria-label={w.course(s.length)}
          className="mt-2 w-full max-w-3xl min-w-md text-[10px]"
        >
          {rate.ticks(3).map((t) => (
            <g key={t}>
              <path d={`M${left} ${rate(t)}H${wide - right}`} stroke="var(--hair)" />
              <text
                x={left - 4}
                y={rate(t) + 3}
                textAnchor="end"
                className="fill-[var(--muted)] tabular-nums"
              >
                {t.toLocaleString('en-GB')}
              </text>
            </g>
          ))}
          {late.ticks(2).map((t) => (
            <g key={t}>
              <path d={`M${left} ${late(t)}H${wide - right}`} stroke="var(--hair)" />
              <text
                x={left - 4}
                y={late(t) + 3}
                textAnchor="end"
                className="fill-[var(--muted)] tabular-nums"
              >
                {t}
              </text>
            </g>
          ))}
          <text x={0} y={10} className="fill-[var(--ink)]">
            {w.kbps}
          </text>
          <text x={0} y={tall + 22} className="fill-[var(--ink)]">
            {w.late}
          </text>
          {g.dips.map((d, i) => (
            <rect
              key={i}
              x={x(Math.max(from, d.at))}
              y={14}
              width={Math.max(2, x(Math.max(from, d.at + d.seconds)) - x(Math.max(from, d.at)))}
              height={tall + 60}
              className="fill-[var(--taut)] opacity-20"
            />
          ))}
          {g.stalls.map((t, i) => (
            <rect
              key={i}
              x={x(Math.max(from, t.from))}
              y={tall - 4}
              width={Math.max(2, x(Math.max(from, t.to)) - x(Math.max(from, t.from)))}
              height={4}
              fill="var(--snapped)"
            />
          ))}
          {x.ticks(6).map((t) => (
            <text
              key={t}
              x={x(t)}
              y={tall + 88}
              textAnchor="middle"
              className="fill-[var(--muted)] tabular-nums"
            >
              {words.inspect.clock(t)}
            </text>
          ))}
          <path d={path((v) => rate(v.kbps))} fill="none" stroke="var(--ink)" strokeWidth="1.5" />
          <path d={path((v) => late(v.behind))} fill="none" stroke="var(--kinked)" strokeWidth="1.5" />
        </svg>
      </div>
    </figure>
  )
}

import { scaleLinear } from 'd3-scale'
import { useState } from 'react'
import { words } from '../words'
import type { Inspected, Inspection, Plot } from './clip'

const w = words.inspect

const wide = 720
const left = 92
const right = 16
const rowTall = 18
const plotTall = 84

/** A clip from its beginning to its end: what was found when, its cuts, its bitrate and its loudness. One time of it is read off
 * beside it. */
export function Timeline({ one, shots }: { one: Inspected; shots: Inspection['shots'] }) {
  const [at, setAt] = useState(0)
  const x = scaleLinear()
    .domain([0, Math.max(one.seconds, 1)])
    .range([left, wide - right])
  const rows = one.findings.filter((f) => f.state !== 'slack' && f.spans.length > 0)
  const plots = [one.kbps, one.loudness].filter((p) => p.values.length > 0)
  const top = 16
  const tall = top + (rows.length + (one.cuts.length > 0 ? 1 : 0)) * rowTall
  const height = tall + plots.length * (plotTall + 22) + 18
  const shot = [...shots].filter((s) => s.at <= at + 0.5).pop() ?? shots[0]
  const valueAt = (p: Plot) => p.values[Math.min(p.values.length - 1, Math.max(0, Math.floor(at - p.from)))]
  const ticks = x.ticks(8)
  return (
    <section className="mt-6" data-testid="timeline">
      <h3 className="font-semibold">{w.timeline}</h3>
      <div className="mt-2 flex flex-wrap gap-6">
        <div className="min-w-0 flex-1 basis-96 overflow-x-auto">
          <svg
            viewBox={`0 0 ${wide} ${height}`}
            role="img"
            aria-label={w.timelineOf(w.clock(one.seconds), rows.length, one.cuts.length)}
            className="w-full max-w-3xl min-w-lg text-[10px]"
            onPointerMove={(e) => {
              const box = e.currentTarget.getBoundingClientRect()
              const to = x.invert(((e.clientX - box.left) / box.width) * wide)
              setAt(Math.min(one.seconds, Math.max(0, to)))
            }}
          >
            {ticks.map((t) => (
              <g key={t}>
                <path d={`M${x(t)} ${top - 4}V${height - 16}`} stroke="var(--hair)" />
                <text
                  x={x(t)}
                  y={height - 4}
                  textAnchor="middle"
                  className="fill-[var(--muted)] tabular-nums"
                >
                  {w.clock(t)}
                </text>
              </g>
            ))}
            {rows.map((f, i) => (
              <g key={f.what}>
                <text x={0} y={top + i * rowTall + 10} className="fill-[var(--ink)]">
                  {words.look.names[f.what as keyof typeof words.look.names]}
                </text>
                {f.spans.map((s, k) => (
                  <rect
                    key={k}
                    x={x(s.from)}
                    y={top + i * rowTall + 2}
                    width={Math.max(2, x(s.to) - x(s.from))}
                    height={10}
                    fill={`var(--${f.state})`}
                  />
                ))}
              </g>
            ))}
            {one.cuts.length > 0 && (
              <g>
                <text x={0} y={tall - rowTall + 10} className="fill-[var(--muted)]">
                  {w.cuts}
                </text>
                {one.cuts.map((c) => (
                  <path key={c} d={`M${x(c)} ${tall - rowTall + 2}v10`} stroke="var(--ink)" />
                ))}
              </g>
            )}
            {plots.map((p, i) => (
              <Line key={p.unit} plot={p} x={x} top={tall + 14 + i * (plotTall + 22)} />
            ))}
            <path d={`M${x(at)} ${top - 6}V${height - 16}`} stroke="var(--ink)" strokeDasharray="2 2" />
          </svg>
        </div>
        <figure className="w-60 shrink-0 text-sm" data-testid="read-off">
          {shot && (
            <img
              src={`data:image/jpeg;base64,${shot.jpeg}`}
              alt={w.frameOf(w.clock(shot.at), w.shotOf(shot.of))}
              className="w-full outline outline-1 outline-hair"
            />
          )}
          <figcaption className="mt-1 tabular-nums">
            {shot && (
              <span className="block text-muted">{w.frameOf(w.clock(shot.at), w.shotOf(shot.of))}</span>
            )}
            <label className="mt-2 block">
              {w.readAt(w.clock(at))}
              <input
                type="range"
                className="w-full accent-ink"
                min={0}
                max={Math.max(1, Math.floor(one.seconds))}
                step={1}
                value={Math.floor(at)}
                onChange={(e) => setAt(Number(e.target.value))}
              />
            </label>
            {plots.map((p) => (
              <span key={p.unit} className="block">
                {w.value(valueAt(p), p.unit)}
              </span>
            ))}
          </figcaption>
        </figure>
      </div>
      {plots.map((p) => (
        <p key={p.unit} className="text-sm text-muted">
          {p.says}
        </p>
      ))}
    </section>
  )
}

/** One row of figures by the second, with what is planned of them. */
function Line({ plot: p, x, top }: { plot: Plot; x: (s: number) => number; top: number }) {
  const planned = [p.low, p.high].filter((v) => v !== undefined)
  const low = p.unit === 'LUFS' ? Math.min(...p.values, ...planned) : 0
  const high = Math.max(...p.values, ...planned)
  const y = scaleLinear()
    .domain([low, high === low ? low + 1 : high])
    .range([top + plotTall, top])
    .nice(3)
  const path = p.values.map((v, i) => `${i ? 'L' : 'M'}${x(p.from + i)} ${y(v)}`).join('')
  return (
    <g>
      <text x={0} y={top + 10} className="fill-[var(--ink)]">
        {w.plots[p.unit as keyof typeof w.plots]}
      </text>
      {y.ticks(3).map((t) => (
        <g key={t}>
          <path d={`M${left} ${y(t)}H${wide - right}`} stroke="var(--hair)" />
          <text x={left - 4} y={y(t) + 3} textAnchor="end" className="fill-[var(--muted)] tabular-nums">
            {t.toLocaleString('en-GB').replace('-', '−')}
          </text>
        </g>
      ))}
      {planned.map((v) => (
        <path key={v} d={`M${left} ${y(v)}H${wide - right}`} stroke="var(--taut)" strokeDasharray="5 3" />
      ))}
      <path d={path} fill="none" stroke="var(--ink)" strokeWidth="1.5" />
    </g>
  )
}

import type { Board } from '../api/client'
import { Choice, Num, Row, Text } from '../parts/Field'
import { words } from '../words'

const w = words.show.layouts
type Show = Board['rig']['show']
type Layout = NonNullable<Show['layouts']>[number]
type Shape = Layout['shape']

/** Which sources are seen together, and where: drawn to shape beside what is said of it. */
export function Layouts({
  show,
  now,
  put,
}: {
  show: Show
  now: Board
  put: (part: Partial<Show>, what: string) => void
}) {
  const all = show.layouts ?? []
  const laid = now.verdict.layouts
  const sources = [...new Map(now.verdict.feeds.map((f) => [f.source, f.label] as const))]
  const change = (i: number, part: Partial<Layout>) =>
    put(
      { layouts: all.map((l, k) => (k === i ? { ...l, ...part } : l)) },
      w.said(part.name ?? laid[i]?.name ?? ''),
    )
  return (
    <>
      <p className="py-1 text-sm text-muted">{w.help}</p>
      {all.map((l, i) => (
        <div key={i} className="border-b border-hair py-1" data-layout={i}>
          <div className="flex items-start gap-4 py-1.5">
            {laid[i] && <Drawing boxes={laid[i].boxes} programme={show.programme} />}
            <p className="min-w-0 flex-1 text-sm break-words">{laid[i]?.words}</p>
            <button
              className="quiet text-sm"
              onClick={() => put({ layouts: all.filter((_, k) => k !== i) }, w.without(laid[i]?.name ?? ''))}
            >
              {w.remove}
            </button>
          </div>
          <Row label={w.name}>
            <Text
              name={`${w.name} ${i + 1}`}
              value={l.name ?? ''}
              width="w-60"
              placeholder={laid[i]?.name}
              keep={(v) => change(i, { name: v || undefined })}
            />
            <Choice
              name={`${w.shape} ${i + 1}`}
              value={l.shape}
              options={(Object.entries(w.shapes) as [Shape, string][]).filter(
                ([s]) => sources.length > 1 || s === 'full' || s === 'upright' || s === l.shape,
              )}
              keep={(shape) => change(i, shaped(l, shape, sources))}
            />
          </Row>
          {l.sources.map((id, k) => (
            <Row key={k} label={w.source(k, l.sources.length, l.shape === 'inset')}>
              <Choice
                name={`${w.source(k, l.sources.length, l.shape === 'inset')} ${i + 1}`}
                value={id}
                options={sources.filter(([s]) => s === id || !l.sources.includes(s))}
                keep={(v) => change(i, { sources: l.sources.map((s, n) => (n === k ? v : s)) })}
              />
              {k === l.sources.length - 1 &&
                l.shape === 'inset' &&
                sources.some(([s]) => !l.sources.includes(s)) && (
                  <button
                    className="quiet text-sm"
                    onClick={() =>
                      change(i, {
                        sources: [...l.sources, sources.find(([s]) => !l.sources.includes(s))![0]],
                      })
                    }
                  >
                    {w.more}
                  </button>
                )}
              {k > 1 && (
                <button
                  className="quiet text-sm"
                  onClick={() => change(i, { sources: l.sources.filter((_, n) => n !== k) })}
                >
                  {w.remove}
                </button>
              )}
            </Row>
          ))}
          {l.shape === 'inset' && (
            <Row label={w.corner}>
              <Choice
                name={`${w.corner} ${i + 1}`}
                value={l.corner ?? 'bottom-right'}
                options={Object.entries(w.corners) as [NonNullable<Layout['corner']>, string][]}
                keep={(corner) => change(i, { corner })}
              />
            </Row>
          )}
          {l.shape === 'inset' && (
            <Row label={w.size}>
              <Num
                name={`${w.size} ${i + 1}`}
                unit="%"
                width="w-16"
                low={5}
                high={60}
                value={l.sizePct ?? 25}
                keep={(sizePct) => change(i, { sizePct })}
              />
            </Row>
          )}
          {l.shape === 'inset' && (
            <Row label={w.edge}>
              <Num
                name={`${w.edge} ${i + 1}`}
                unit="%"
                width="w-16"
                low={0.1}
                high={40}
                value={l.edgePct ?? 2.5}
                keep={(edgePct) => change(i, { edgePct })}
              />
            </Row>
          )}
        </div>
      ))}
      {sources.length > 0 && (
        <button
          className="quiet mt-2 text-sm"
          onClick={() =>
            put(
              {
                layouts: [
                  ...all,
                  shaped({ shape: 'full', sources: [] }, sources.length > 1 ? 'inset' : 'full', sources),
                ],
              },
              w.add,
            )
          }
        >
          {w.add}
        </button>
      )}
    </>
  )
}

/** An arrangement in another shape, with as many sources as that has. */
function shaped(l: Layout, shape: Shape, sources: (readonly [string, string])[]): Layout {
  const most = shape === 'inset' ? Math.max(2, l.sources.length) : shape === 'two-up' ? 2 : 1
  const others = sources.map(([s]) => s).filter((s) => !l.sources.includes(s))
  const next = [...l.sources, ...others].slice(0, most)
  return shape === 'inset'
    ? { ...l, shape, sources: next }
    : { ...l, shape, sources: next, corner: undefined, sizePct: undefined, edgePct: undefined }
}

/** The programme with what lies on it. */
function Drawing({
  boxes,
  programme: p,
}: {
  boxes: Board['verdict']['layouts'][number]['boxes']
  programme: { width: number; height: number }
}) {
  const scale = Math.min(112 / p.width, 63 / p.height)
  const [width, height] = [p.width * scale, p.height * scale]
  return (
    <svg width="112" height="63" viewBox="0 0 112 63" aria-hidden="true" className="shrink-0">
      <rect width={width} height={height} fill="var(--ink)" opacity="0.85" rx="1.5" />
      {boxes.map((b, i) => (
        <g key={i}>
          <rect
            x={b.at.x * width + 1}
            y={b.at.y * height + 1}
            width={Math.max(0, b.at.w * width - 2)}
            height={Math.max(0, b.at.h * height - 2)}
            fill="var(--sheet)"
            stroke="var(--ink)"
          />
          <text
            x={(b.at.x + b.at.w / 2) * width}
            y={(b.at.y + b.at.h / 2) * height + 4}
            textAnchor="middle"
            fontSize="11"
            fill="var(--ink)"
          >
            {i + 1}
          </text>
        </g>
      ))}
    </svg>
  )
}

import type { KeyboardEvent } from 'react'
import { words } from '../words'
import { type Span, textBelow } from './layout'

const w = words.board

export const stateClass = {
  slack: 'text-slack',
  taut: 'text-taut',
  kinked: 'text-kinked',
  snapped: 'text-snapped',
  untested: 'text-untested',
}
/** Arrow keys go from hop to hop: along the line, or to the line above or below. */
export function arrows(e: KeyboardEvent<HTMLButtonElement>) {
  const along = { ArrowRight: 1, ArrowLeft: -1 }[e.key]
  const across = { ArrowDown: 1, ArrowUp: -1 }[e.key]
  if (!along && !across) return
  e.preventDefault()
  const me = e.currentTarget
  const all = [...me.parentElement!.querySelectorAll<HTMLButtonElement>('button.hop')]
  const row = (b: HTMLButtonElement) => Number(b.dataset.row)
  const x = (b: HTMLButtonElement) => b.offsetLeft
  const gap = (b: HTMLButtonElement) => Math.abs(x(b) - x(me))
  const nearest = (list: HTMLButtonElement[], far: (b: HTMLButtonElement) => number) =>
    list.sort((p, q) => far(p) - far(q))[0]
  if (along) {
    const ahead = all.filter((b) => (x(b) - x(me)) * along > 4)
    // A shared stretch carries the label of one line only: from the others the way goes there and on.
    const mine = ahead.filter((b) => row(b) === row(me))
    nearest(mine.length ? mine : ahead, gap)?.focus()
    return
  }
  const heights = [...new Set(all.map((b) => row(b)))].sort((p, q) => height(all, p) - height(all, q))
  const next = heights[heights.indexOf(row(me)) + across!]
  if (next !== undefined)
    nearest(
      all.filter((b) => row(b) === next),
      gap,
    )?.focus()
}
export function HopButton(props: {
  span: Span
  row: number
  line: string
  pressed: boolean
  tab: number
  lit: boolean
  light?: (limits: string[] | undefined) => void
  onFocus: () => void
  onOpen: () => void
  onKey: (e: KeyboardEvent) => void
}) {
  const { span } = props
  const { hop, a, b, index } = span
  const y = span.spread ? (a.y + b.y) / 2 : Math.max(a.y, b.y)
  // What lies between two lines of a lead is told by where it is; its words are for when something is wrong with it.
  const detail = hop.kind === 'lead' && hop.stage === 'port' ? '' : hop.detail
  return (
    <button
      className="hop absolute rounded px-1 pb-0.5 text-left text-[13px] leading-4"
      style={{
        left: a.x + 2,
        top: y - 16,
        width: b.x - a.x - (hop.stage === 'port' ? 12 : 4),
        paddingTop: 16 + textBelow + span.spread,
      }}
      data-row={props.row}
      data-line={props.line}
      data-level={span.level ? 'yes' : 'no'}
      data-col={index}
      data-state={hop.state}
      data-stage={hop.stage}
      data-lit={props.lit || undefined}
      tabIndex={props.tab}
      aria-pressed={props.pressed}
      aria-label={`${words.stages[hop.stage]}: ${hop.label}, ${hop.detail}, ${words.states[hop.state]}${hop.figure ? `, ${hop.figure}` : ''}`}
      onFocus={() => {
        props.onFocus()
        props.light?.(hop.limits)
      }}
      onBlur={() => props.light?.(undefined)}
      onMouseEnter={() => props.light?.(hop.limits)}
      onMouseLeave={() => props.light?.(undefined)}
      onClick={props.onOpen}
      onKeyDown={(e) => {
        arrows(e)
        props.onKey(e)
      }}
    >
      <span data-words className="block break-words">
        <span className="block font-semibold">{hop.label}</span>
        {hop.state !== 'slack' && (
          <b className={`block text-xs leading-4 ${stateClass[hop.state]}`}>
            {words.states[hop.state]} {hop.figure}
          </b>
        )}
        <span className="block text-xs leading-4 text-muted">
          {hop.state === 'slack' && hop.figure && `${hop.figure} `}
          {detail && (hop.state === 'slack' && hop.figure ? `· ${detail}` : detail)}
          {hop.proposed && <i> {hop.stage === 'camera' ? w.proposedPower : w.proposedHop}</i>}
        </span>
      </span>
    </button>
  )
}

/** Where a line starts, from the top. */
function height(all: HTMLButtonElement[], row: number) {
  return all.find((b) => Number(b.dataset.row) === row)!.offsetTop
}

import { Link, useParams } from 'react-router'
import { memo, useEffect, useLayoutEffect, useMemo, useRef, useState, type PointerEvent } from 'react'
import type { Hop, Move, Rig, Verdict } from '../api/client'
import { Rope } from '../parts/Rope'
import type { Point } from '../parts/rope'
import { Shape } from '../parts/Shape'
import { words } from '../words'
import { type HopAt, plugOf } from './hops'
import { plan, plankWidth, rowOrder, type Plan, type Sizes, type Span } from './layout'
import { HopButton, stateClass } from './HopButton'
import { Lines } from './Lines'

const w = words.board
type Props = {
  kept: Verdict
  rig: Rig
  /** The verdict a held change would bring; drawn over the kept one. */
  ghost?: { verdict: Verdict; rig: Rig }
  open?: HopAt
  onOpen: (at: HopAt) => void
  onStep: (hop: Hop, by: number) => void
  onPick: (hop: Hop) => void
  /** Moves of the plug that is in the hand, by the socket they lead to. */
  movesOf: (lead: string) => Promise<Move[]>
  onHold: (move: Move | undefined) => void
  onKeep: () => void
  readOnly: boolean
  /** Ids of the limits that are pointed at: the hops they are about are lit, and a hop that is pointed at lights them. */
  lit?: string[]
  light?: (limits: string[] | undefined) => void
}

/** The Tether board: lines lay themselves, work is done on them. */
export const Board = memo(function Board(props: Props) {
  const { id } = useParams()
  const box = useRef<HTMLDivElement>(null)
  const [width, setWidth] = useState(1200)
  useLayoutEffect(() => {
    const el = box.current!
    const measure = () => setWidth(Math.max(1080, el.clientWidth))
    measure()
    const o = new ResizeObserver(measure)
    o.observe(el)
    return () => o.disconnect()
  }, [])
  const order = useMemo(() => rowOrder(props.kept, props.rig), [props.kept, props.rig])
  const [sizes, setSizes] = useState<Sizes>()
  const kept = useMemo(
    () => plan(props.kept, props.rig, width, order, sizes),
    [props.kept, props.rig, width, order, sizes],
  )
  const ghost = useMemo(
    () => props.ghost && plan(props.ghost.verdict, props.ghost.rig, width, order, sizes),
    [props.ghost, width, order, sizes],
  )
  const shown = ghost ?? kept
  const verdict = props.ghost?.verdict ?? props.kept
  const hand = useHand(shown, props)
  const [focus, setFocus] = useState<HopAt>()
  const labelled = shown.spans.filter((s) => s.labelled)
  // Texts wrap; the lines make room for them. For one verdict the room only grows: words that wrap anew because of it would go
  // on for ever.
  const measured = useRef<{ verdict: Verdict; width: number }>(undefined)
  useLayoutEffect(() => {
    const again = measured.current?.verdict === verdict && measured.current.width === width
    measured.current = { verdict, width }
    const now = sizesOf(box.current!)
    setSizes((was) => {
      const next = again && was ? larger(was, now) : now
      return JSON.stringify(was) === JSON.stringify(next) ? was : next
    })
  }, [shown, verdict, width])
  const first = labelled[0]
  const isFocus = (s: Span) =>
    focus && labelled.some((l) => same(l, verdict, focus)) ? same(s, verdict, focus) : s === first
  return (
    <div ref={box} className="relative overflow-x-auto" data-testid="board" data-held={ghost ? 'yes' : 'no'}>
      <div className="drawn relative isolate" style={{ width: shown.width, height: shown.height }}>
        <svg width={shown.width} height={shown.height} className="absolute inset-0" aria-hidden="true">
          <Stages plan={shown} />
          {ghost && (
            <g className="was">
              <Lines plan={kept} verdict={props.kept} />
            </g>
          )}
          <g className={ghost ? 'ghost' : undefined}>
            <Lines plan={shown} verdict={verdict} hide={hand.lead} />
          </g>
          <Fittings plan={shown} targets={hand.targets} />
          {hand.lead && hand.from && hand.at && (
            <g data-in-hand={hand.lead}>
              <Rope a={hand.from} b={hand.at} state="slack" room={0.3} />
            </g>
          )}
        </svg>
        {shown.columns.map((c) => (
          <div
            key={c.stage}
            className="absolute top-0 text-xs tracking-wide text-muted"
            style={{ left: c.x + 2 }}
          >
            {words.stages[c.stage]}
          </div>
        ))}
        {labelled.map((s) => (
          <HopButton
            key={s.key}
            span={s}
            row={s.feed}
            line={verdict.feeds[s.feed]!.id}
            pressed={same(s, verdict, props.open)}
            tab={isFocus(s) ? 0 : -1}
            lit={!!props.lit?.some((id) => s.hop.limits.includes(id))}
            light={props.light}
            onFocus={() => {
              setFocus({ feed: verdict.feeds[s.feed]!.id, index: s.index })
              // What can be done here is fetched before it is asked for; a failure shows when it is.
              if (!props.readOnly && s.hop.kind !== 'rig')
                props.movesOf(plugOf(s.hop) ?? s.hop.ref.split('.')[0]!).catch(() => undefined)
            }}
            onOpen={() => props.onOpen({ feed: verdict.feeds[s.feed]!.id, index: s.index })}
            onKey={(e) => {
              if (props.readOnly) return
              if (e.key === '[' || e.key === ']') props.onStep(s.hop, e.key === ']' ? 1 : -1)
              else if (e.key === 'p' || e.key === 'P') props.onPick(s.hop)
              else return
              e.preventDefault()
            }}
          />
        ))}
        {!props.readOnly &&
          labelled
            .filter((s) => plugOf(s.hop))
            .map((s) => (
              <button
                key={`plug/${s.key}`}
                tabIndex={-1}
                aria-label={`${w.pick}: ${s.hop.label}`}
                title={w.pick}
                data-plug={plugOf(s.hop)}
                className="absolute h-6 w-6 cursor-grab touch-none rounded-full active:cursor-grabbing"
                style={{ left: (s.elbow?.[1] ?? s.b).x - 30, top: (s.elbow?.[1] ?? s.b).y - 12 }}
                onPointerDown={(e) => hand.take(e, s)}
              >
                <svg width="24" height="24" viewBox="0 0 24 24" aria-hidden="true">
                  <rect x="6" y="7.5" width="11" height="9" rx="2" fill="var(--ink)" />
                  <path d="M17 10h4M17 14h4" stroke="var(--ink)" strokeWidth="2" />
                </svg>
              </button>
            ))}
        {shown.plank && (
          <div
            data-plank
            className="absolute text-center text-[13px] leading-4 font-semibold break-words"
            style={{ left: shown.plank.x - 75, width: 150, top: shown.plank.words }}
          >
            {shown.plank.label}
          </div>
        )}
        {verdict.outs.map((o, i) => (
          <div
            key={i}
            className="absolute text-right text-[13px] leading-4"
            data-out={i}
            style={{
              left: shown.ring.x + 52,
              width: shown.width - shown.ring.x - 56,
              top: shown.outs[i]!.words,
            }}
          >
            <Link className="font-semibold break-words hover:underline" to={`/rigs/${id}/send`}>
              {o.label}
            </Link>
            <div className="text-xs break-words text-muted">
              {o.judged && o.state !== 'slack' && (
                <b className={`block ${stateClass[o.state]}`}>
                  {words.states[o.state]} {o.figure}
                </b>
              )}
              {o.detail}
            </div>
          </div>
        ))}
      </div>
    </div>
  )
})

function same(s: Span, v: Verdict, at: HopAt | undefined) {
  return !!at && v.feeds[s.feed]?.id === at.feed && s.index === at.index
}

/** The taller of two measurements, part by part. */
function larger(a: Sizes, b: Sizes): Sizes {
  const each = (x: Record<string, number>, y: Record<string, number>) => {
    const out = { ...x }
    for (const [k, v] of Object.entries(y)) out[k] = Math.max(v, out[k] ?? 0)
    return out
  }
  return {
    rows: each(a.rows, b.rows),
    hubs: each(a.hubs, b.hubs),
    outs: b.outs.map((v, i) => Math.max(v, a.outs[i] ?? 0)),
    plank: Math.max(a.plank, b.plank),
  }
}

/** How tall the words on the board are. */
function sizesOf(board: HTMLElement): Sizes {
  const out: Sizes = {
    rows: {},
    hubs: {},
    outs: [],
    plank: board.querySelector<HTMLElement>('[data-plank]')?.offsetHeight ?? 0,
  }
  for (const b of board.querySelectorAll<HTMLElement>('button.hop')) {
    const words = b.querySelector<HTMLElement>('[data-words]')!
    const to = b.dataset.level === 'yes' ? out.rows : out.hubs
    to[b.dataset.line!] = Math.max(to[b.dataset.line!] ?? 0, Math.ceil(words.offsetHeight))
  }
  for (const o of board.querySelectorAll<HTMLElement>('[data-out]')) out.outs.push(Math.ceil(o.offsetHeight))
  return out
}

function Stages({ plan: p }: { plan: Plan }) {
  return (
    <>
      {p.columns.map((c, i) =>
        i === 0 ? null : (
          <path
            key={c.stage}
            d={`M${c.x} 22V${p.height}`}
            stroke="var(--hair)"
            strokeDasharray="1 6"
            strokeLinecap="round"
          />
        ),
      )}
    </>
  )
}

/** What the lines are tied to: lenses, pegs, hubs, the computer's sockets, the programme. */
function Fittings({ plan: p, targets }: { plan: Plan; targets: Map<string, Move> }) {
  return (
    <>
      {p.plank && (
        <>
          <rect
            x={p.plank.x - plankWidth / 2}
            y={p.plank.top}
            width={plankWidth}
            height={p.plank.bottom - p.plank.top}
            rx="5"
            fill="var(--sheet)"
            stroke="var(--ink)"
            strokeWidth="1.5"
          />
        </>
      )}
      {p.spans.map((s) =>
        !s.labelled || (s.hop.stage === 'port' && s.hop.kind !== 'lead') ? null : (
          <circle
            key={s.key}
            cx={s.b.x}
            cy={s.b.y}
            r="3.4"
            fill="var(--paper)"
            stroke="var(--ink)"
            strokeWidth="1.6"
          />
        ),
      )}
      {p.rows.map((r, i) => (
        <g key={i}>
          <circle cx={r.x} cy={r.y} r="7.5" fill="var(--paper)" stroke="var(--ink)" strokeWidth="1.8" />
          <circle cx={r.x} cy={r.y} r="3" fill="var(--ink)" />
        </g>
      ))}
      {p.hubs.map((h) => (
        <g key={h.id}>
          <title>{h.label}</title>
          <ellipse
            cx={h.x}
            cy={h.y}
            rx="7"
            ry={h.reach}
            fill="var(--paper)"
            stroke="var(--ink)"
            strokeWidth="2"
          />
        </g>
      ))}
      {p.grommets.map((g) => {
        const target = targets.has(g.ref)
        return (
          <g key={g.ref} data-socket={g.ref}>
            <circle
              cx={g.x}
              cy={g.y}
              r={target ? 8 : g.free ? 4.5 : 6}
              fill={g.free ? 'var(--paper)' : 'var(--ink)'}
              stroke={target ? 'var(--focus)' : 'var(--ink)'}
              strokeWidth={target ? 3 : 1.5}
            />
            {g.free && (
              <text
                x={g.x - plankWidth / 2 - 6}
                y={g.y + 4}
                textAnchor="end"
                fontSize="12"
                fill="var(--muted)"
              >
                {g.label} · {w.free}
              </text>
            )}
          </g>
        )
      })}
      {p.frames.map((f) => (
        <g key={f.feed}>
          <title>{[f.shape.words || w.wholeFrame, ...f.parts.map((p) => w.partIn(p.name))].join('; ')}</title>
          <Shape shape={f.shape} x={f.x} y={f.y} width={f.width} height={f.height} />
          {f.parts.map((p, i) => (
            <rect
              key={i}
              data-part={p.name}
              x={f.x + p.at.x * f.width}
              y={f.y + p.at.y * f.height}
              width={p.at.w * f.width}
              height={p.at.h * f.height}
              fill="var(--sheet)"
              fillOpacity="0.35"
              stroke="var(--focus)"
              strokeWidth="1.5"
            />
          ))}
        </g>
      ))}
      <circle cx={p.ring.x} cy={p.ring.y} r="11" fill="var(--paper)" stroke="var(--ink)" strokeWidth="4" />
      <text
        x={p.ring.x}
        y={p.ring.y + 30}
        textAnchor="middle"
        stroke="var(--paper)"
        strokeWidth="5"
        paintOrder="stroke"
        fontSize="12"
        fontWeight="600"
        fill="var(--ink)"
      >
        {w.programme}
      </text>
    </>
  )
}

type Hand = { lead?: string; from?: Point; at?: Point; targets: Map<string, Move> }

/** useHand carries a plug: over a socket the change is held, let go there it is kept, anywhere else it is put back. */
function useHand(p: Plan, props: Props) {
  const [hand, setHand] = useState<Hand>({ targets: new Map() })
  const live = useRef({ p, props, hand, over: undefined as string | undefined })
  useEffect(() => {
    live.current = { ...live.current, p, props, hand }
  })
  const letGo = useRef<() => void>(undefined)
  useEffect(() => () => letGo.current?.(), []) // a page that goes away holds nothing
  const take = (e: PointerEvent<HTMLButtonElement>, s: Span) => {
    const lead = plugOf(s.hop)
    if (!lead || e.button !== 0) return
    e.preventDefault()
    const origin = e.currentTarget.parentElement!.getBoundingClientRect()
    const point = (ev: { clientX: number; clientY: number }) => ({
      x: ev.clientX - origin.left,
      y: ev.clientY - origin.top,
    })
    const sockets = live.current.p.grommets
    setHand({ lead, from: s.a, at: point(e), targets: new Map() })
    void live.current.props.movesOf(lead).then((moves) =>
      setHand((h) =>
        h.lead === lead
          ? {
              ...h,
              targets: new Map(moves.filter((m) => m.kind === 'plug').map((m) => [m.edits[0]!.socket!, m])),
            }
          : h,
      ),
    )
    const drag = (ev: globalThis.PointerEvent) => {
      const at = point(ev)
      const { hand, over, props } = live.current
      const near = sockets.find((g) => hand.targets.has(g.ref) && Math.hypot(g.x - at.x, g.y - at.y) < 24)
      setHand((h) => ({ ...h, at: near ?? at }))
      if (near?.ref !== over) {
        live.current.over = near?.ref
        props.onHold(near && hand.targets.get(near.ref))
      }
    }
    const off = new AbortController()
    const on = { signal: off.signal }
    const drop = (keep: boolean) => {
      off.abort()
      letGo.current = undefined
      if (keep && live.current.over) live.current.props.onKeep()
      else live.current.props.onHold(undefined)
      live.current.over = undefined
      setHand({ targets: new Map() })
    }
    const key = (ev: globalThis.KeyboardEvent) => {
      if (ev.key !== 'Escape') return
      ev.stopPropagation()
      drop(false)
    }
    letGo.current = () => off.abort()
    window.addEventListener('pointermove', drag, on)
    window.addEventListener('pointerup', () => drop(true), on)
    window.addEventListener('pointercancel', () => drop(false), on)
    window.addEventListener('keydown', key, { ...on, capture: true })
  }
  return { ...hand, take }
}

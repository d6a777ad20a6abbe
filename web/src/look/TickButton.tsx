import { useState } from 'react'
import type { Night, Op, RunSheet } from '../api/client'
import { words } from '../words'
import { ticksOf } from './ticks'
import type { Preflight } from './useDevices'

const w = words.look.devices

/** Ticks what a look at everything shows done, marks what failed, and notes what it came to. */
export function TickButton({
  steps,
  ticks,
  preflight: p,
  add,
  night,
}: {
  steps: RunSheet['steps']
  ticks: Night['standing']['ticks']
  preflight: Preflight
  add: (op: Pick<Op, 'kind' | 'step' | 'text'>) => Promise<unknown>
  /** Whose steps they are, where that is not plain. */
  night?: string
}) {
  const [done, setDone] = useState(false)
  const ops = ticksOf(steps, (id) => !!ticks[id]?.done, p)
  if (done)
    return (
      <p role="status" className="mt-3">
        {w.ticked}
      </p>
    )
  if (ops.length === 0) return night ? null : <p className="mt-3 text-sm text-muted">{w.nothingToTick}</p>
  const of = (kind: string) => ops.filter((o) => o.kind === kind).length
  const says = w.tick(of('tick'), of('fail'))
  return (
    <button
      className="act mt-3"
      onClick={() => {
        setDone(true)
        for (const op of ops) void add(op)
        const lines = p.rows.filter((r) => r.follows).map((r) => `${r.label}: ${r.follows}`)
        void add({ kind: 'note', text: w.preflightNote(p.sentence, lines).slice(0, 2000) })
      }}
    >
      {night ? w.tickIn(says, night) : says}
    </button>
  )
}

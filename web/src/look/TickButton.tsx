import { useState } from 'react'
import type { Failure, Night, Op, RunSheet } from '../api/client'
import { Problems } from '../parts/Frame'
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
  const [busy, setBusy] = useState(false)
  const [failure, setFailure] = useState<Failure>()
  const ops = ticksOf(steps, (id) => !!ticks[id]?.done, p)
  const tick = async () => {
    setBusy(true)
    setFailure(undefined)
    const lines = p.rows.filter((r) => r.follows).map((r) => `${r.label}: ${r.follows}`)
    try {
      for (const op of ops) await add(op)
      await add({ kind: 'note', text: w.preflightNote(p.sentence, lines).slice(0, 2000) })
      setDone(true)
    } catch (e) {
      setFailure(e as Failure)
    }
    setBusy(false)
  }
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
    <>
      <button className="act mt-3" disabled={busy} onClick={() => void tick()}>
        {night ? w.tickIn(says, night) : says}
      </button>
      {failure && <Problems error={failure} />}
    </>
  )
}

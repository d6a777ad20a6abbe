import { useState } from 'react'
import type { Board } from '../api/client'
import type { Change } from '../parts/change'
import { measuredDone, measuredFor, useMeasuring } from '../parts/measuring'
import { words } from '../words'

const w = words.board.measuring

/** Of a rig that began on this very computer: how far it has been measured, and what was found is taken with one press. */
export function Measured({ now, keep }: { now: Board; keep: (c: Change) => void }) {
  const [mine, setMine] = useState(() => measuredFor(now.id))
  const state = useMeasuring({ enabled: mine, awaited: true })
  const host = now.rig.items.find((i) => i.gear.kind === 'computer' && i.role !== 'source')
  if (!mine || !host) return null
  const at = state.data
  const done = () => {
    measuredDone()
    setMine(false)
  }
  const { result, failed, running, progress } = at ?? {}
  return (
    <div
      role="status"
      data-testid="measuring"
      className="mb-3 flex flex-wrap items-center gap-3 bg-wash px-4 py-2 text-sm"
    >
      {running && progress && (
        <>
          <progress className="w-40" value={progress.done} max={progress.of || 1} />
          <span className="flex-1">
            {w.running} {progress.step}
          </span>
        </>
      )}
      {!running && result && (
        <>
          <span className="flex-1">{w.found}</span>
          <button
            className="act act-main"
            onClick={() => {
              keep({
                edits: [{ do: 'computes', item: host.id, computes: result.computes }],
                what: w.took(host.label),
              })
              done()
            }}
          >
            {w.take}
          </button>
        </>
      )}
      {!running && !result && <span className="flex-1">{failed ? w.failed(failed) : w.waiting}</span>}
      <button className="quiet" onClick={done}>
        {w.leave}
      </button>
    </div>
  )
}

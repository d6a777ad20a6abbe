import { useState } from 'react'
import { words } from '../words'
import type { Row } from './device'
import { Mark } from './Mark'
import type { useDevices } from './useDevices'

const w = words.look.devices

/** Two microphones, five claps: which of them hears it first, and by how much. */
export function ClapTest({
  rows,
  busy,
  clap,
  claps,
}: {
  rows: Row[]
  busy: boolean
  clap: (first: Row, second: Row) => void
  claps: ReturnType<typeof useDevices>['claps']
}) {
  const [pair, setPair] = useState<[string, string]>()
  const [first, second] = [0, 1].map((k) => rows.find((r) => r.id === pair?.[k]) ?? rows[k]!) as [Row, Row]
  return (
    <section className="mt-5 border-l-4 border-hair pl-3" data-testid="claps">
      <p className="max-w-2xl text-sm text-muted">{w.clapHelp}</p>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        {[first, second].map((at, k) => (
          <select
            key={k}
            className="field max-w-56"
            aria-label={w.clapOf(k)}
            value={at.id}
            onChange={(e) => setPair(k === 0 ? [e.target.value, second.id] : [first.id, e.target.value])}
          >
            {rows.map((r) => (
              <option key={r.id} value={r.id}>
                {r.label}
              </option>
            ))}
          </select>
        ))}
        <button className="act" disabled={busy || first.id === second.id} onClick={() => clap(first, second)}>
          {w.clap}
        </button>
      </div>
      {claps && (
        <p className="mt-2" role="status">
          <Mark answer={claps.answer} words={w.heardBoth} /> {w.clapOrder(claps.first, claps.second)}{' '}
          {claps.says}
        </p>
      )}
    </section>
  )
}

import type { Board, Show } from '../api/client'
import { Row, Text, Num } from '../parts/Field'
import { Put, Save } from './choices'
import { words } from '../words'

const w = words.show

/** People who join by a call: what they send comes down the line and is decoded here, what they see goes up. */
export function Calls({ now, show, put, save }: { now: Board; show: Show; put: Put; save: Save }) {
  const all = show.calls ?? []
  const change = (i: number, part: Partial<(typeof all)[number]>, what: string) =>
    put({ calls: all.map((c, k) => (k === i ? { ...c, ...part } : c)) }, what)
  const number = (f: (typeof all)[number]['upKbps']) => (typeof f === 'number' ? f : f?.value)
  const down = now.rig.uplink?.downMbps
  return (
    <>
      {all.length === 0 && <p className="py-2 text-muted">{w.noCall}</p>}
      {all.map((c, i) => (
        <Row key={i} label={w.call}>
          <Text
            name={`${w.call} ${i + 1}`}
            value={c.name ?? ''}
            width="w-40"
            placeholder={w.callName}
            keep={(v) => change(i, { name: v || undefined }, `${w.call}: ${v}`)}
          />
          <Num
            name={`${w.people} ${i + 1}`}
            unit={w.peopleUnit}
            width="w-14"
            value={c.persons}
            keep={(v) => change(i, { persons: v }, `${w.people}: ${v ?? w.notSaid}`)}
          />
          <Num
            name={`${w.up} ${i + 1}`}
            unit={w.upUnit}
            width="w-20"
            value={number(c.upKbps)}
            keep={(v) => change(i, { upKbps: v }, `${w.up}: ${v ?? w.notSaid}`)}
          />
          <Num
            name={`${w.down} ${i + 1}`}
            unit={w.downUnit}
            width="w-20"
            value={number(c.downKbps)}
            keep={(v) => change(i, { downKbps: v }, `${w.down}: ${v ?? w.notSaid}`)}
          />
          <button
            className="quiet text-sm"
            onClick={() => put({ calls: all.filter((_, k) => k !== i) }, w.noMoreCall)}
          >
            {w.remove}
          </button>
        </Row>
      ))}
      {all.length > 0 && (
        <Row label={w.lineDown} hint={w.lineDownHint}>
          <Num
            name={w.lineDown}
            unit="Mb/s"
            value={number(down)}
            keep={(v) =>
              v !== undefined &&
              save({
                edits: [{ do: 'fact', path: 'uplink/downMbps', fact: { value: v, low: v, high: v } }],
                what: `${w.lineDown}: ${v} Mb/s`,
              })
            }
          />
        </Row>
      )}
      <button className="quiet mt-2 text-sm" onClick={() => put({ calls: [...all, {}] }, w.addCall)}>
        {w.addCall}
      </button>
    </>
  )
}

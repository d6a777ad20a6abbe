import { useState } from 'react'
import type { Evening } from '../api/client'
import { Problems } from '../parts/Frame'
import { words } from '../words'
import { withoutKeys } from './keys'
import { type Add, useTake } from './NightPage'
import type { Failure } from '../api/client'

const w = words.night
const usual = ['bitrate', 'dropped', 'processor', 'temperature', 'battery', 'free', 'uplink']

/** Figures read off or measured tonight, beside what the rig was planned with; one is taken into the rig in one action. */
export function Figures({ now: e, add }: { now: Evening; add: Add }) {
  const [what, setWhat] = useState('')
  const [value, setValue] = useState('')
  const [unit, setUnit] = useState('')
  const take = useTake(e)
  const fact = e.facts.find((f) => f.name === what)
  return (
    <section className="mt-8" data-testid="figures">
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.figures}</h2>
      <form
        className="mt-2 flex flex-wrap items-end gap-3"
        onSubmit={(x) => {
          x.preventDefault()
          if (!what.trim() || value.trim() === '' || Number.isNaN(Number(value))) return
          void add({
            kind: 'figure',
            figure: {
              what: withoutKeys(what.trim()).slice(0, 120),
              value: Number(value),
              unit: fact?.unit ?? unit,
              path: fact?.path,
              of: fact?.item,
            },
          })
          setWhat('')
          setValue('')
        }}
      >
        <label className="min-w-0 flex-1 text-sm">
          <span className="block text-muted">{w.figure}</span>
          <input
            className="field w-full min-w-48"
            list="figures"
            value={what}
            maxLength={120}
            onChange={(x) => setWhat(x.target.value)}
          />
          <datalist id="figures">
            {usual.map((u) => (
              <option key={u} value={u} />
            ))}
            {e.facts.map((f) => (
              <option key={f.path} value={f.name} />
            ))}
          </datalist>
        </label>
        <label className="text-sm">
          <span className="block text-muted">{w.value}</span>
          <input
            className="field w-24"
            inputMode="decimal"
            value={value}
            onChange={(x) => setValue(x.target.value.replace(',', '.'))}
          />
        </label>
        {fact ? (
          <span className="py-1">{fact.unit}</span>
        ) : (
          <input
            className="field w-20"
            aria-label="Unit"
            maxLength={20}
            value={unit}
            onChange={(x) => setUnit(x.target.value)}
          />
        )}
        <button className="act">{w.add}</button>
      </form>
      {take.error && <Problems error={take.error as Failure} />}
      {take.isSuccess && <p role="status">{w.taken}</p>}
      <table className="mt-2 w-full text-sm">
        <tbody>
          {e.standing.figures.map((k) => {
            const f = k.op.figure!
            const planned = e.facts.find((x) => x.path === f.path)
            return (
              <tr key={k.id} className="border-b border-hair">
                <td className="py-1 pr-3 tabular-nums">
                  {new Date(k.op.at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}
                </td>
                <td className="pr-3">{f.what}</td>
                <td className="pr-3 text-right font-semibold tabular-nums">
                  {f.value} {f.unit}
                </td>
                <td className="pr-3 text-muted">
                  {planned &&
                    w.planned(
                      planned.low === planned.high
                        ? String(planned.value)
                        : `${planned.low} to ${planned.high}`,
                    )}
                </td>
                <td className="text-right">
                  {f.path && (
                    <button
                      className="quiet"
                      disabled={take.isPending}
                      onClick={() =>
                        take.mutate({ path: f.path!, value: f.value, what: f.what, at: k.op.at })
                      }
                    >
                      {w.take}
                    </button>
                  )}
                </td>
              </tr>
            )
          })}
        </tbody>
      </table>
    </section>
  )
}

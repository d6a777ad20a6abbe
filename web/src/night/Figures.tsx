import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { api } from '../api/client'
import type { Night } from '../api/client'
import { Problems } from '../parts/Frame'
import { ImportButton } from '../parts/ImportButton'
import { words } from '../words'
import { Latest } from './Latest'
import { useTake } from './useTake'
import type { Add } from './useNight'
import type { Failure } from '../api/client'

const w = words.night
const usual = ['bitrate', 'dropped', 'processor', 'temperature', 'battery', 'free', 'uplink']

/** Figures read off or measured tonight, beside what the rig was planned with; one is taken into the rig in one action. */
export function Figures({ now: e, add }: { now: Night; add: Add }) {
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
              what: what.trim().slice(0, 120),
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
            aria-label={w.unit}
            maxLength={20}
            value={unit}
            onChange={(x) => setUnit(x.target.value)}
          />
        )}
        <button className="act">{w.add}</button>
      </form>
      <FromTable now={e} add={add} />
      {take.error && <Problems error={take.error as Failure} />}
      {take.data && <p role="status">{w.taken(take.data.shelf)}</p>}
      <table className="mt-2 w-full text-sm">
        <tbody>
          <Latest
            rows
            of={e.standing.figures}
            each={(k) => {
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
            }}
          />
        </tbody>
      </table>
    </section>
  )
}

/** A table some program wrote: its columns are chosen, then its figures are added. */
function FromTable({ now: e, add }: { now: Night; add: Add }) {
  const [chosen, setChosen] = useState<number[]>([])
  const [time, setTime] = useState(-1)
  const read = useMutation({
    mutationFn: async (f: File) => api.readTable(e.id, await f.text()),
    onSuccess: (t) => {
      setTime(t.columns.findIndex((c) => c.moments > 0))
      setChosen([])
    },
  })
  const t = read.data
  const cells = t
    ? chosen.flatMap((k) =>
        t.columns[k]!.numbers.flatMap((v, row) =>
          v === null
            ? []
            : [{ what: t.columns[k]!.name, value: v, at: time < 0 ? null : t.columns[time]!.times[row] }],
        ),
      )
    : []
  return (
    <div className="mt-3 text-sm" data-testid="table">
      <ImportButton label={w.table} accept=".csv,.tsv,.txt,text/csv" bring={read.mutate} />
      {read.error && <Problems error={read.error as Failure} />}
      {t && (
        <fieldset className="mt-2 space-y-2">
          <legend>{w.columns}</legend>
          <p className="flex flex-wrap gap-x-5 gap-y-1">
            {t.columns.map((c, k) =>
              c.figures > 0 ? (
                <label key={k} className="flex items-center gap-2">
                  <input
                    type="checkbox"
                    checked={chosen.includes(k)}
                    onChange={(x) =>
                      setChosen(x.target.checked ? [...chosen, k] : chosen.filter((o) => o !== k))
                    }
                  />
                  {c.name} ({c.figures})
                </label>
              ) : null,
            )}
          </p>
          <label className="flex items-center gap-2">
            {w.time}
            <select className="field" value={time} onChange={(x) => setTime(Number(x.target.value))}>
              <option value={-1}>{w.noTime}</option>
              {t.columns.map((c, k) =>
                c.moments > 0 ? (
                  <option key={k} value={k}>
                    {c.name}
                  </option>
                ) : null,
              )}
            </select>
          </label>
          {t.problems.map((p, i) => (
            <p key={i}>{w.line(p.line ?? 0, p.text)}</p>
          ))}
          <button
            className="act"
            disabled={cells.length === 0}
            onClick={() => {
              const air = new Date(e.airAt).getTime()
              for (const c of cells)
                void add({
                  kind: 'figure',
                  at: c.at ?? air,
                  figure: { what: c.what.slice(0, 120), value: c.value },
                })
              read.reset()
            }}
          >
            {w.bring(cells.length)}
          </button>
        </fieldset>
      )}
    </div>
  )
}

import { useState, type ReactNode } from 'react'
import type { Gear } from '../api/client'
import { useField } from '../api/fields'
import { Bounds } from '../parts/Bounds'
import { Row } from '../parts/Field'
import { useNumber } from '../parts/useTyped'
import { figure } from '../tether/figures'
import { words } from '../words'

const w = words.shelf

export type Fact = NonNullable<Gear['freeGB']>
type Long = { value: number; low?: number; high?: number; from?: string; at?: string }

export const long = (f: Fact | undefined): Long | undefined =>
  f === undefined ? undefined : typeof f === 'number' ? { value: f } : (f as Long)

/** A fact as it stands: estimates look different from measured ones. */
export function factText(f: Fact | undefined, unit: string): string {
  const l = long(f)
  if (!l) return w.notSaid
  const from = l.from ?? 'given'
  const text = figure(
    { value: l.value, low: l.low ?? l.value, high: l.high ?? l.value },
    unit,
    from === 'estimate',
  )
  return `${text} · ${words.from[from] ?? from}${l.at ? ` ${l.at}` : ''}`
}

/** A number with where it comes from, changed in place: typed as given, or as measured on a day. */
export function FactField(p: {
  /** The field, as its path has it: items/ID/power/drawW. */
  field: string
  name: string
  label?: string
  fact: Fact | undefined
  keep: (f: Fact | undefined, what: string) => void
}) {
  const [open, setOpen] = useState(false)
  const [from, setFrom] = useState('measured')
  const [at, setAt] = useState(new Date().toISOString().slice(0, 10))
  const label = p.label ?? p.name
  const field = useField(p.field)
  const unit = field?.unit ?? ''
  const fact = long(p.fact)
  const typed = useNumber({ unit, units: field?.units, low: field?.low, high: field?.high })
  const value = typed.text ?? ''
  return (
    <Framed label={p.name}>
      {fact && (
        <Bounds
          low={fact.low ?? fact.value}
          value={fact.value}
          high={fact.high ?? fact.value}
          est={fact.from === 'estimate'}
        />
      )}
      <span className={fact?.from === 'estimate' ? 'text-untested italic' : fact ? '' : 'text-muted'}>
        {factText(p.fact, unit)}
      </span>
      {!open && (
        <button
          className="quiet text-xs"
          aria-label={`${words.hop.edit}: ${label}`}
          onClick={() => {
            typed.set(String(long(p.fact)?.value ?? ''))
            setOpen(true)
          }}
        >
          {words.hop.edit}
        </button>
      )}
      {open && (
        <form
          className="flex w-full flex-wrap items-center gap-2"
          onSubmit={(e) => {
            e.preventDefault()
            void typed.read().then((v) => {
              if (v === undefined) return
              const fact = { value: v, from, ...(from === 'measured' ? { at } : {}) } as Fact
              p.keep(fact, `${p.name}: ${v} ${unit}, ${words.from[from]}`)
              setOpen(false)
            })
          }}
        >
          <input
            className="field w-24 text-right"
            aria-label={label}
            autoFocus
            value={value}
            aria-invalid={!!typed.wrong}
            onChange={(e) => typed.set(e.target.value)}
          />
          {unit}
          {typed.wrong && (
            <span role="alert" className="text-sm text-snapped">
              {typed.wrong}
            </span>
          )}
          <select
            className="field"
            aria-label={`${w.from} ${label}`}
            value={from}
            onChange={(e) => setFrom(e.target.value)}
          >
            {['measured', 'data-sheet', 'given', 'estimate'].map((f) => (
              <option key={f} value={f}>
                {words.from[f]}
              </option>
            ))}
          </select>
          {from === 'measured' && (
            <input
              type="date"
              className="field"
              aria-label={`${w.on} ${label}`}
              value={at}
              onChange={(e) => setAt(e.target.value)}
            />
          )}
          <button className="act text-sm" disabled={!value.trim() || !!typed.wrong}>
            {w.keep}
          </button>
          <button type="button" className="act text-sm" onClick={() => setOpen(false)}>
            {words.hop.close}
          </button>
        </form>
      )}
    </Framed>
  )
}

/** A row with its name, or the bare field where its column has the name. */
function Framed({ label, children }: { label: string; children: ReactNode }) {
  return label ? (
    <Row label={label}>{children}</Row>
  ) : (
    <div className="flex flex-wrap items-baseline gap-x-2 break-words">{children}</div>
  )
}

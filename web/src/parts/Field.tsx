import { useId, useState, type ReactNode } from 'react'
import { api } from '../api/client'
import { money, type Money } from './money'
import { type Takes, useNumber } from './useNumber'

/** A label with what is typed or chosen beside it. */
export function Row({ label, hint, children }: { label: ReactNode; hint?: ReactNode; children: ReactNode }) {
  return (
    <div className="grid grid-cols-[minmax(8rem,11rem)_1fr] items-baseline gap-x-4 border-b border-hair py-1.5 max-sm:grid-cols-1">
      <span className="text-sm text-muted">{label}</span>
      <span>
        <span className="flex flex-wrap items-center gap-x-3 gap-y-1">{children}</span>
        {hint && <span className="block text-xs text-muted">{hint}</span>}
      </span>
    </div>
  )
}

type TextProps = {
  name: string
  value: string
  keep: (text: string) => void
  width?: string
  unit?: string
  long?: boolean
  disabled?: boolean
  placeholder?: string
  number?: boolean
}

/** A text changed in place: kept on Enter or on leaving, put back by Escape. */
export function Text(p: TextProps) {
  const [text, setText] = useState<string>()
  const id = useId()
  const done = () => {
    if (text !== undefined && text.trim() !== p.value) p.keep(text.trim())
    setText(undefined)
  }
  const shared = {
    id,
    'aria-label': p.name,
    className: `field ${p.number ? 'text-right' : ''} ${p.width ?? 'w-full'}`,
    disabled: p.disabled,
    placeholder: p.placeholder,
    value: text ?? p.value,
    onBlur: done,
  }
  return (
    <>
      {p.long ? (
        <textarea {...shared} rows={3} onChange={(e) => setText(e.target.value)} />
      ) : (
        <input
          {...shared}
          inputMode={p.number ? 'decimal' : undefined}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === 'Enter') e.currentTarget.blur()
            if (e.key === 'Escape') {
              e.stopPropagation()
              setText(undefined)
            }
          }}
        />
      )}
      {p.unit && <span className="text-sm text-muted">{p.unit}</span>}
    </>
  )
}

/** A number changed in place, typed as people type them; an empty field says nothing. */
export function Num(
  p: Omit<TextProps, 'value' | 'keep'> & { value?: number; keep: (v: number | undefined) => void } & Takes,
) {
  const typed = useNumber({ unit: p.unit, units: p.units, low: p.low, high: p.high })
  const id = useId()
  const shown = p.value === undefined ? '' : String(p.value)
  const done = async () => {
    if (typed.text === undefined || typed.text.trim() === shown) return typed.set(undefined)
    if (typed.text.trim() === '') {
      p.keep(undefined)
      return typed.set(undefined)
    }
    const v = await typed.read()
    if (v === undefined) return // what was typed stays, with what is wrong with it
    typed.set(undefined)
    if (v !== p.value) p.keep(v)
  }
  return (
    <>
      <input
        aria-label={p.name}
        aria-invalid={!!typed.wrong}
        aria-describedby={typed.wrong ? id : undefined}
        className={`field text-right ${p.width ?? 'w-24'}`}
        disabled={p.disabled}
        placeholder={p.placeholder}
        inputMode="text"
        value={typed.text ?? shown}
        onChange={(e) => typed.set(e.target.value)}
        onBlur={() => void done()}
        onKeyDown={(e) => {
          if (e.key === 'Enter') void done()
          if (e.key === 'Escape' && typed.text !== undefined) {
            e.stopPropagation()
            typed.set(undefined)
          }
        }}
      />
      {p.unit && <span className="text-sm text-muted">{p.unit}</span>}
      {typed.wrong && (
        <span id={id} role="alert" className="text-sm text-snapped">
          {p.name}: {typed.wrong}
        </span>
      )}
    </>
  )
}

/** An amount with its currency, typed as people type them; an empty field says nothing. */
export function Price(p: {
  name: string
  value?: Money | null
  /** The currency that is meant where none is typed. */
  currency: string
  keep: (m: Money | undefined) => void
  width?: string
  disabled?: boolean
  placeholder?: string
}) {
  const [text, setText] = useState<string>()
  const [wrong, setWrong] = useState<string>()
  const id = useId()
  const shown = p.value ? money(p.value) : ''
  const set = (t: string | undefined) => {
    setText(t)
    setWrong(undefined)
  }
  const done = async () => {
    if (text === undefined || text.trim() === shown) return set(undefined)
    if (text.trim() === '') {
      p.keep(undefined)
      return set(undefined)
    }
    try {
      const m = await api.money({ text, currency: p.value?.currency ?? p.currency })
      set(undefined)
      if (m.amount !== p.value?.amount || m.currency !== p.value.currency) p.keep(m)
    } catch (e) {
      setWrong((e as Error).message) // what was typed stays, with what is wrong with it
    }
  }
  return (
    <>
      <input
        aria-label={p.name}
        aria-invalid={!!wrong}
        aria-describedby={wrong ? id : undefined}
        className={`field text-right ${p.width ?? 'w-32'}`}
        disabled={p.disabled}
        placeholder={p.placeholder}
        value={text ?? shown}
        onChange={(e) => set(e.target.value)}
        onBlur={() => void done()}
        onKeyDown={(e) => {
          if (e.key === 'Enter') void done()
          if (e.key === 'Escape' && text !== undefined) {
            e.stopPropagation()
            set(undefined)
          }
        }}
      />
      {wrong && (
        <span id={id} role="alert" className="block text-sm whitespace-normal text-snapped">
          {p.name}: {wrong}
        </span>
      )}
    </>
  )
}

/** One of several, chosen in place. */
export function Choice<T extends string>(p: {
  name: string
  value: T
  options: readonly (readonly [T, string])[]
  keep: (v: T) => void
  disabled?: boolean
}) {
  const known = p.options.some(([v]) => v === p.value)
  return (
    <select
      className="field"
      aria-label={p.name}
      value={p.value}
      disabled={p.disabled}
      onChange={(e) => p.keep(e.target.value as T)}
    >
      {!known && <option value={p.value}>{p.value}</option>}
      {p.options.map(([v, label]) => (
        <option key={v} value={v}>
          {label}
        </option>
      ))}
    </select>
  )
}

/** Yes or no, with its words. */
export function Tick(p: { label: string; value: boolean; keep: (v: boolean) => void; disabled?: boolean }) {
  return (
    <label className="flex items-center gap-2">
      <input
        type="checkbox"
        className="h-4 w-4 accent-[var(--ink)]"
        checked={p.value}
        disabled={p.disabled}
        onChange={(e) => p.keep(e.target.checked)}
      />
      {p.label}
    </label>
  )
}

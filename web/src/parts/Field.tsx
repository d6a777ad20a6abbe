import { useId, useState, type ReactNode } from 'react'
import { api } from '../api/client'
import { money, type Money } from './money'
import { type Takes, useNumber, useTyped } from './useTyped'

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
  const typed = useNumber({ unit: p.unit, units: p.units, low: p.low, high: p.high, whole: p.whole })
  return (
    <Typed
      {...p}
      width={p.width ?? 'w-24'}
      shown={p.value === undefined ? '' : String(p.value)}
      typed={typed}
      keep={(v) => {
        if (v !== p.value) p.keep(v)
      }}
    />
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
  const typed = useTyped((text) => api.money({ text, currency: p.value?.currency ?? p.currency }))
  return (
    <Typed
      {...p}
      width={p.width ?? 'w-32'}
      shown={p.value ? money(p.value) : ''}
      typed={typed}
      keep={(m) => {
        if (m?.amount !== p.value?.amount || m?.currency !== p.value?.currency) p.keep(m)
      }}
    />
  )
}

/** What is read by the core, kept on Enter or on leaving once it is right, put back by Escape. */
function Typed<T>(p: {
  name: string
  shown: string
  typed: ReturnType<typeof useTyped<T>>
  keep: (v: T | undefined) => void
  width: string
  unit?: string
  disabled?: boolean
  placeholder?: string
}) {
  const { text, wrong, set, read } = p.typed
  const id = useId()
  const done = async () => {
    if (text === undefined || text.trim() === p.shown) return set(undefined)
    const empty = text.trim() === ''
    const v = empty ? undefined : await read()
    if (v === undefined && !empty) return // what was typed stays, with what is wrong with it
    set(undefined)
    p.keep(v)
  }
  return (
    <>
      <input
        aria-label={p.name}
        aria-invalid={!!wrong}
        aria-describedby={wrong ? id : undefined}
        className={`field text-right ${p.width}`}
        disabled={p.disabled}
        placeholder={p.placeholder}
        value={text ?? p.shown}
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
      {p.unit && <span className="text-sm text-muted">{p.unit}</span>}
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

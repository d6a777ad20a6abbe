import { useState } from 'react'
import { words } from '../words'
import type { Dip } from './types'

const w = words.rehearse

const kinds: Dip['kind'][] = ['narrow', 'slow', 'stalls', 'closes', 'denies']

/** The far end does something badly for a while, so that one sees before the night what the program does then. */
export function BadFarEnd({
  on,
  busy,
  dip,
}: {
  on: boolean
  busy: boolean
  dip: (kind: Dip['kind'], value: number, seconds: number) => void
}) {
  const [kind, setKind] = useState<Dip['kind']>('narrow')
  const [kbps, setKbps] = useState('1000')
  const [ms, setMs] = useState('300')
  const [seconds, setSeconds] = useState('10')
  return (
    <form
      className="mt-6"
      data-testid="badly"
      onSubmit={(e) => {
        e.preventDefault()
        dip(
          kind,
          kind === 'narrow' ? Number(kbps) : kind === 'slow' ? Number(ms) : 0,
          kind === 'closes' ? 0 : Number(seconds),
        )
      }}
    >
      <h3 className="font-semibold">{w.badly}</h3>
      <p className="max-w-2xl text-sm text-muted">{w.badlyHelp}</p>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <select
          className="field"
          aria-label={w.badly}
          value={kind}
          onChange={(e) => setKind(e.target.value as Dip['kind'])}
        >
          {kinds.map((k) => (
            <option key={k} value={k}>
              {w.dips[k]}
            </option>
          ))}
        </select>
        {kind === 'narrow' && <Figure label={w.toKbps} unit="kb/s" value={kbps} set={setKbps} />}
        {kind === 'slow' && <Figure label={w.byMs} unit="ms" value={ms} set={setMs} />}
        {kind !== 'closes' && <Figure label={w.forSeconds} unit="s" value={seconds} set={setSeconds} />}
        <button className="act" disabled={busy || !on}>
          {w.doIt}
        </button>
        {!on && <span className="text-sm text-muted">{w.nobodySends}</span>}
      </div>
    </form>
  )
}

function Figure({
  label,
  unit,
  value,
  set,
}: {
  label: string
  unit: string
  value: string
  set: (v: string) => void
}) {
  return (
    <label className="flex items-center gap-2">
      {label}
      <input
        className="field w-20 text-right"
        inputMode="numeric"
        value={value}
        onChange={(e) => set(e.target.value.replace(/[^0-9.]/g, ''))}
      />
      {unit}
    </label>
  )
}

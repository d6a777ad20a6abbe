import { useState } from 'react'
import type { Night, Incident, Written } from '../api/client'
import { words } from '../words'
import { draftOf, dropDraft, minutesOf, putDraft } from './drafts'
import { cutKeys } from './keys'
import { Latest } from './Latest'
import type { Add } from './useNight'

const w = words.night
const hops = ['camera', 'socket', 'lead', 'capture', 'port', 'picture', 'send'] as const
const losses = ['source', 'composing', 'coding', 'sending', 'sound', 'power', 'other'] as const

/** What went wrong, by the minute it was stamped; filled in when there is time. */
export function Incidents({ now: e, add }: { now: Night; add: Add }) {
  return (
    <section className="mt-8" data-testid="incidents">
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.incidents}</h2>
      {e.standing.incidents.length === 0 && <p className="mt-2 text-muted">{w.none}</p>}
      <Latest of={e.standing.incidents} each={(k) => <One key={k.id} now={e} kept={k} add={add} />} />
    </section>
  )
}

/** An incident as it is kept: said to be unsaid where it is. */
export function written(typed: Incident): Incident {
  return { ...typed, what: typed.what.trim() || w.unsaid }
}

function One({ now: e, kept, add }: { now: Night; kept: Written; add: Add }) {
  const was = kept.op.incident!
  const [open, setOpen] = useState(was.what === w.unsaid)
  const [now, set] = useState<Incident>(() => draftOf(e.id, kept.id) ?? was)
  const [minutes, setMinutes] = useState(() => (now.minutesLost === undefined ? '' : String(now.minutesLost)))
  const wrong = minutes.trim() !== '' && minutesOf(minutes) === undefined
  const first = kept.before[0] ?? kept.op
  const own = (word: string) => e.facts.some((f) => f.item === word)
  const clean = (text: Incident) => {
    const out = { ...text }
    for (const name of ['what', 'cause', 'cure', 'next', 'part'] as const)
      if (out[name]) out[name] = cutKeys(out[name], own).clean
    return out
  }
  const setNow = (text: Incident) => {
    set(text)
    putDraft(e.id, kept.id, clean(text)) // a key is in this page alone, never in what the device keeps
  }
  const text = (name: 'what' | 'cause' | 'cure' | 'next' | 'part') => (
    <label className="text-sm">
      <span className="block text-muted">{w.fields[name]}</span>
      <input
        className="field w-full"
        maxLength={name === 'part' ? 120 : 500}
        list={name === 'part' ? 'parts' : undefined}
        value={name === 'what' && now.what === w.unsaid ? '' : (now[name] ?? '')}
        onChange={(x) => setNow({ ...now, [name]: x.target.value })}
      />
    </label>
  )
  return (
    <details
      className="border-b border-hair py-2"
      open={open}
      onToggle={(x) => setOpen(x.currentTarget.open)}
    >
      <summary className="cursor-pointer">
        <span className="tabular-nums">
          {new Date(first.at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}
        </span>{' '}
        <b>{was.what}</b>{' '}
        <span className="text-muted">
          {w.loss[was.loss]}
          {was.part ? ` · ${was.part}` : ''}
          {was.minutesLost ? ` · ${was.minutesLost} min` : ''}
        </span>
      </summary>
      <form
        className="mt-2 grid gap-x-4 gap-y-2 sm:grid-cols-2"
        onSubmit={(x) => {
          x.preventDefault()
          if (wrong) return
          void add({ kind: 'incident', of: kept.id, incident: written(now) })
          dropDraft(e.id, kept.id)
          setOpen(false)
        }}
      >
        <datalist id="parts">
          {e.parts.map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
        {text('what')}
        <label className="text-sm">
          <span className="block text-muted">{w.fields.loss}</span>
          <select
            className="field w-full"
            value={now.loss}
            onChange={(x) => setNow({ ...now, loss: x.target.value as Incident['loss'] })}
          >
            {losses.map((l) => (
              <option key={l} value={l}>
                {w.loss[l]}
              </option>
            ))}
          </select>
        </label>
        {text('part')}
        <label className="text-sm">
          <span className="block text-muted">{w.fields.hop}</span>
          <select
            className="field w-full"
            value={now.hop ?? ''}
            onChange={(x) => setNow({ ...now, hop: (x.target.value || undefined) as Incident['hop'] })}
          >
            <option value="">{w.unsaid}</option>
            {hops.map((h) => (
              <option key={h} value={h}>
                {words.stages[h]}
              </option>
            ))}
          </select>
        </label>
        {text('cause')}
        {text('cure')}
        <label className="text-sm">
          <span className="block text-muted">{w.fields.minutesLost}</span>
          <input
            className="field w-24"
            inputMode="decimal"
            aria-invalid={wrong}
            aria-describedby={wrong ? `wrong-${kept.id}` : undefined}
            value={minutes}
            onChange={(x) => {
              setMinutes(x.target.value)
              setNow({ ...now, minutesLost: minutesOf(x.target.value) })
            }}
          />
          {wrong && (
            <span id={`wrong-${kept.id}`} role="alert" className="mt-1 block text-snapped">
              {w.minutesWrong(minutes.trim())}
            </span>
          )}
        </label>
        {text('next')}
        <p className="flex gap-4">
          <button className="act act-main">{w.save}</button>
          <button
            type="button"
            className="quiet text-sm"
            onClick={() => {
              dropDraft(e.id, kept.id)
              void add({ kind: 'drop', of: kept.id })
            }}
          >
            {w.drop}
          </button>
        </p>
      </form>
      {kept.before.length > 0 && (
        <p className="mt-1 text-sm text-muted">
          {w.before}: {kept.before.map((b) => b.incident?.what).join(' · ')}
        </p>
      )}
    </details>
  )
}

import { words } from '../words'
import type { Inspection } from './clip'

const w = words.inspect

/** The clips of a rig, the newest first: how far each is, and which one is shown. */
export function Queue({
  all,
  choices,
  open,
  choose,
  callOff,
}: {
  all: Inspection[]
  choices: { what: string; says: string }[]
  open?: string
  choose: (id: string) => void
  callOff: (id: string) => void
}) {
  if (all.length === 0) return <p className="mt-4 text-sm text-muted">{w.none}</p>
  const now = (i: Inspection) => i.state === 'waits' || i.state === 'runs'
  const past = all.filter((i) => !now(i))
  const shown = past.slice(0, 4)
  const of = (i: Inspection) => choices.find((c) => c.what === i.of)?.says ?? i.of
  const row = (i: Inspection) => (
    <li key={i.id} className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-hair py-1 text-sm">
      <span className="min-w-0 flex-1 basis-48 truncate" title={i.name}>
        {i.id === open ? <b>{i.name}</b> : i.name} <span className="text-muted">{of(i)}</span>
      </span>
      {i.state === 'runs' && (
        <progress
          className="accent-ink"
          max={1}
          value={i.total ? i.done / i.total : undefined}
          aria-label={w.running(i.name)}
        />
      )}
      {i.state === 'waits' && <span role="status">{w.waits}</span>}
      {i.state === 'failed' && <span className="text-snapped">{i.problem}</span>}
      {i.state === 'off' && <span className="text-muted">{w.off}</span>}
      {now(i) && (
        <button className="act" onClick={() => callOff(i.id)}>
          {w.callOff}
        </button>
      )}
      {i.state === 'done' && i.id !== open && (
        <button className="act" onClick={() => choose(i.id)} aria-label={w.showOf(i.name)}>
          {w.show}
        </button>
      )}
      {i.state === 'done' && i.id === open && <span className="text-muted">{w.shown}</span>}
    </li>
  )
  return (
    <section className="mt-4" data-testid="clips">
      <ul aria-live="polite">
        {all.filter(now).map(row)}
        {shown.map(row)}
      </ul>
      {past.length > shown.length && (
        <details className="text-sm">
          <summary className="cursor-pointer py-1">{w.older(past.length - shown.length)}</summary>
          <ul>{past.slice(shown.length).map(row)}</ul>
        </details>
      )}
    </section>
  )
}

import { useState } from 'react'
import { HeldTable } from '../inspect/HeldTable'
import { TickNights } from '../look/TickNights'
import { words } from '../words'
import { BadFarEnd } from './BadFarEnd'
import { Course } from './Course'
import { Heard } from './Heard'
import type { Dip, Rehearsal } from './types'

const w = words.rehearse

/** A rehearsal while it runs, or as it ended: what to type, what comes, the sheet line by line. */
export function Live({
  of: r,
  rig,
  busy,
  dip,
  end,
}: {
  of: Rehearsal
  rig: string
  busy: boolean
  dip: (kind: Dip['kind'], value: number, seconds: number) => void
  end: () => void
}) {
  const now = r.now!
  const g = now.going
  return (
    <article className="mt-6" data-testid="rehearsal" data-ended={r.ended}>
      <h2 className="truncate border-b border-ink pb-1 text-lg font-semibold">{w.rehearsing(now.label)}</h2>
      <p className="mt-2 font-semibold" aria-live="polite">
        {now.sentence}
      </p>
      {!r.ended && (
        <dl className="mt-3 grid max-w-3xl grid-cols-[7rem_1fr] gap-x-4 gap-y-1 max-sm:grid-cols-1">
          <dt className="text-muted">{w.server}</dt>
          <dd className="min-w-0 break-all">
            {r.addresses.map((a) => (
              <Copied key={a} text={a} />
            ))}
          </dd>
          <dt className="text-muted">{w.key[r.transport]}</dt>
          <dd className="min-w-0 break-all">
            <Copied text={r.key} />
          </dd>
        </dl>
      )}
      {!r.ended && <p className="mt-1 text-sm text-muted">{w.madeForThis}</p>}
      <div className="mt-4 flex flex-wrap gap-6">
        <div className="min-w-0 flex-1 basis-96">
          <Course going={g} arrived={now.arrived} />
        </div>
        {r.shot && (
          <figure className="w-60 shrink-0 text-sm">
            <img
              src={`data:image/jpeg;base64,${r.shot}`}
              alt={w.shot}
              className="w-full outline outline-1 outline-hair"
            />
            <figcaption className="mt-1 text-muted">{w.shot}</figcaption>
          </figure>
        )}
      </div>
      {g.connections > 0 && now.held && <HeldTable held={now.held} said={now.sentence} />}
      {g.connections > 0 && <Heard now={now} />}
      {now.seen
        .filter((s) => s.answer === 'found')
        .map((s) => (
          <p key={s.what} className="mt-3 text-sm">
            {s.says}
          </p>
        ))}
      {g.connections > 0 && <Elsewhere of={r} />}
      {!r.ended && r.badly && <BadFarEnd on={g.connected} busy={busy} dip={dip} />}
      {!r.ended && !r.badly && <p className="mt-4 text-sm text-muted">{w.notBadly}</p>}
      {g.dips.length > 0 && (
        <ul className="mt-3 text-sm" data-testid="dips">
          {g.dips.map((d, i) => (
            <li key={i} className="border-b border-hair py-1 tabular-nums">
              {d.says}
            </li>
          ))}
        </ul>
      )}
      <details className="mt-4 text-sm">
        <summary className="cursor-pointer">{w.events(r.events.length)}</summary>
        <ul className="text-muted tabular-nums">
          {r.events.map((e, i) => (
            <li key={i}>
              {words.inspect.clock(e.at)} {e.says}
            </li>
          ))}
        </ul>
      </details>
      {!r.ended && (
        <button className="act mt-4" disabled={busy} onClick={end}>
          {g.connections > 0 ? w.end : w.close}
        </button>
      )}
      {r.ended && g.connections > 0 && now.preflight && (
        <>
          <p className="mt-3 text-sm text-muted">{w.keptReport}</p>
          <TickNights rig={rig} preflight={now.preflight} />
        </>
      )}
    </article>
  )
}

/** A text to be typed elsewhere, and a way to copy it. */
function Copied({ text }: { text: string }) {
  const [done, setDone] = useState(false)
  return (
    <span className="flex flex-wrap items-baseline gap-x-3">
      <code className="tabular-nums select-all">{text}</code>
      <button
        className="quiet text-sm"
        aria-label={w.copyOf(text)}
        onClick={() => void navigator.clipboard?.writeText(text).then(() => setDone(true))}
      >
        {done ? w.copied : w.copy}
      </button>
    </span>
  )
}

/** What another kind of destination would not take of it. */
function Elsewhere({ of: r }: { of: Rehearsal }) {
  const [name, setName] = useState('')
  const one = r.else.find((e) => e.name === name)
  const refusing = r.else.filter((e) => e.refuses.length > 0).length
  return (
    <section className="mt-4 text-sm" data-testid="elsewhere">
      <label className="flex flex-wrap items-center gap-2">
        {w.elsewhere}
        <select className="field max-w-64" value={name} onChange={(e) => setName(e.target.value)}>
          <option value="">{w.elsewhereAll(refusing, r.else.length)}</option>
          {r.else.map((e) => (
            <option key={e.name} value={e.name}>
              {e.name}
            </option>
          ))}
        </select>
      </label>
      {one &&
        (one.refuses.length === 0 ? (
          <p className="mt-1">{w.takesAll(one.name)}</p>
        ) : (
          <ul className="mt-1">
            {one.refuses.map((x) => (
              <li key={x.says} className="border-l-4 border-snapped pl-3">
                {x.says}
              </li>
            ))}
          </ul>
        ))}
      {one && one.unknown.length > 0 && <p className="mt-1 text-muted">{w.unknown(one.unknown)}</p>}
    </section>
  )
}

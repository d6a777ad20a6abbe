import { useEffect, useState } from 'react'
import { Link, useParams } from 'react-router'
import { type Night, Failure, nightAddress, type RunStep } from '../api/client'
import { Frame, Problems } from '../parts/Frame'
import { useTitle } from '../parts/useTitle'
import { More } from '../run/RunPage'
import { clock } from '../run/clock'
import { words } from '../words'
import { DoorView } from './DoorView'
import { Figures } from './Figures'
import { draftOf } from './drafts'
import { Incidents, written } from './Incidents'
import { Latest } from './Latest'
import { Preflight } from './Preflight'
import { over } from './merge'
import { Cuts, RefusedList } from './RefusedList'
import { Sure } from './Sure'
import { type Add, useNight } from './useNight'

const w = words.night

/** Whether this is the computer the application runs on: phones open no doors. */
const atHome = ['127.0.0.1', 'localhost', '[::1]'].includes(location.hostname)

/** The night itself: ticks, the clock, what happened. */
export function NightPage() {
  const id = useParams().id!
  const [who, setWho] = useState(() => localStorage.getItem('who') ?? '')
  const { night, waiting, behind, refused, failure, cuts, add, putBack, leaveOut, mend, setAside } = useNight(
    id,
    who,
  )
  useDark()
  useTitle(night.data?.name, w.title)
  const e = night.data
  if (!e)
    return (
      <Frame>
        <main className="p-8">
          {night.error && !(night.error instanceof Failure && night.error.away) ? (
            <Problems error={night.error as Failure} />
          ) : (
            <p role="status">{w.loading}</p>
          )}
        </main>
      </Frame>
    )
  const shown = over(e, [...behind, ...waiting])
  return (
    <Frame title={<span className="block truncate">{e.name}</span>}>
      <main className="mx-auto max-w-5xl px-6 pb-24 max-sm:px-3">
        <Clock now={shown} />
        {failure && <Problems error={failure} />}
        <RefusedList
          refused={refused}
          mend={(op) => void mend(op)}
          setAside={(r, aside) => void setAside(r, aside)}
        />
        <div role="status" className="space-y-1">
          {waiting.length > 0 && (
            <p className="border-l-4 border-untested pl-3" data-testid="waiting">
              {w.waiting(waiting.length)}
            </p>
          )}
          <Cuts cuts={cuts} putBack={(c) => void putBack(c)} leaveOut={leaveOut} />
        </div>
        <Buttons now={shown} add={add} />
        <label className="mt-3 flex flex-wrap items-center gap-3 text-sm">
          {w.who}
          <input
            className="field w-32"
            maxLength={60}
            value={who}
            onChange={(x) => {
              setWho(x.target.value)
              localStorage.setItem('who', x.target.value)
            }}
          />
          <span className="text-muted">{w.whoHelp}</span>
        </label>
        {!shown.standing.endAt && <Preflight now={shown} add={add} />}
        {!shown.standing.endAt && <Steps now={shown} add={add} />}
        <Incidents now={shown} add={add} />
        <Figures now={shown} add={add} />
        <Notes now={shown} add={add} />
        {!!shown.standing.endAt && <Steps now={shown} add={add} />}
        {atHome && <DoorView night={id} />}
        <p className="mt-8 flex flex-wrap gap-x-5 gap-y-1 border-t border-hair pt-3 text-sm">
          <Link className="quiet" to={`/rigs/${e.rigId}`}>
            {w.rig}
          </Link>
          {(['json', 'incidents', 'figures'] as const).map((as) => (
            <a key={as} className="quiet" download href={nightAddress(id, as)}>
              {w.exports[as]}
            </a>
          ))}
          {!window.isSecureContext && <span className="text-muted">{w.noPhone}</span>}
        </p>
      </main>
    </Frame>
  )
}

/** Dark for the night, whatever the theme of the other pages; the switch still works. */
function useDark() {
  const [was] = useState(() => {
    const now = document.documentElement.dataset.theme
    document.documentElement.dataset.theme = 'dark'
    return now
  })
  useEffect(() => {
    document.documentElement.dataset.theme = 'dark'
    return () => {
      document.documentElement.dataset.theme = was
    }
  }, [was])
}

const time = (ms: number) => new Date(ms).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })

function useClock() {
  const [now, setNow] = useState(() => Date.now())
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 5_000)
    return () => clearInterval(timer)
  }, [])
  return now
}

function Clock({ now: e }: { now: Night }) {
  const now = useClock()
  const air = new Date(e.airAt).getTime()
  const s = e.standing
  const pace = e.pace
  const minutes = (ms: number) => ms / 60_000
  return (
    <section className="flex flex-wrap items-baseline gap-x-8 gap-y-1 py-4" data-testid="clock">
      <p className="text-5xl font-semibold tabular-nums max-sm:text-4xl">{time(now)}</p>
      <p className="text-xl">
        {s.endAt ? w.over : s.airAt ? w.onAir(minutes(now - s.airAt)) : w.airIn(minutes(air - now))}
      </p>
      {!s.airAt && !s.endAt && (
        <p>
          <b className={pace.ahead < 0 ? 'text-snapped' : ''}>{w.ahead(pace.ahead)}</b>
          {pace.readyAt > 0 && pace.left > 0 && <>, {w.ready(time(pace.readyAt))}</>}.{' '}
          {w.done(pace.done, pace.of)}.
        </p>
      )}
    </section>
  )
}

/** The incidents of which something is typed that is not kept yet. */
const drafts = (e: Night) =>
  e.standing.incidents.flatMap((k) => {
    const text = draftOf(e.id, k.id)
    return text ? [{ id: k.id, text }] : []
  })

/** Keeps what is typed of incidents, as it stands. */
function keepDrafts(e: Night, add: Add) {
  for (const { id, text } of drafts(e)) void add({ kind: 'incident', of: id, incident: written(text) })
}

function Buttons({ now: e, add }: { now: Night; add: Add }) {
  const [stamped, setStamped] = useState<number>()
  const s = e.standing
  return (
    <div className="mt-3 flex flex-wrap items-center gap-3">
      <button
        className="act min-h-14 border-snapped px-6 text-lg text-snapped"
        onClick={() => {
          setStamped(Date.now())
          void add({ kind: 'incident', incident: { loss: 'other', what: w.unsaid } })
        }}
      >
        {w.incident}
      </button>
      {!s.airAt && (
        <Sure ask={w.airAsk} what={w.airSays} yes={w.air} main go={() => void add({ kind: 'air' })} />
      )}
      {!!s.airAt && !s.endAt && (
        <Sure
          ask={w.endAsk}
          what={w.endSays(drafts(e).length)}
          yes={w.end}
          go={() => {
            keepDrafts(e, add)
            void add({ kind: 'end' })
          }}
        />
      )}
      {s.endAt > 0 ? (
        <button className="quiet text-sm" onClick={() => void add({ kind: 'drop', of: s.endOp })}>
          {w.notOver}
        </button>
      ) : (
        s.airAt > 0 && (
          <button className="quiet text-sm" onClick={() => void add({ kind: 'drop', of: s.airOp })}>
            {w.notAir}
          </button>
        )
      )}
      {stamped && (
        <p role="status" className="text-sm">
          {w.stamped(time(stamped))}
        </p>
      )}
    </div>
  )
}

/** The run sheet to tick. For several people it goes by planned time until air, and says whose each step is. */
function Steps({ now: e, add }: { now: Night; add: Add }) {
  const [whose, setWhose] = useState(0)
  const all = e.sheet?.steps ?? []
  const next = e.pace.next.find((id) => !e.standing.ticks[id]?.done)
  const plan = e.sheet?.plans[Math.min(e.people, e.sheet.plans.length) - 1]
  const turns = new Map(plan?.turns.map((t) => [t.step, t]))
  const several = !!plan && plan.people > 1
  const planned = several ? all.filter((s) => turns.has(s.id)) : []
  planned.sort((a, b) => turns.get(a.id)!.start - turns.get(b.id)!.start)
  const steps = several ? [...planned, ...all.filter((s) => !turns.has(s.id))] : all
  const heading = (s: RunStep) => (several && turns.has(s.id) ? w.byTime : s.heading)
  const shown = whose === 0 ? steps : steps.filter((s) => turns.get(s.id)?.who.includes(whose) ?? true)
  return (
    <section className="mt-5" data-testid="steps">
      {several && (
        <select
          className="field"
          aria-label={w.showSteps}
          value={whose}
          onChange={(ev) => setWhose(Number(ev.target.value))}
        >
          <option value={0}>{w.everyone}</option>
          {Array.from({ length: plan.people }, (_, i) => (
            <option key={i} value={i + 1}>
              {w.personsSteps(i + 1)}
            </option>
          ))}
        </select>
      )}
      {shown.map((s, i) => {
        const turn = turns.get(s.id)
        return (
          <div key={s.id}>
            {(i === 0 || heading(shown[i - 1]!) !== heading(s)) && (
              <h2 className="mt-5 border-b border-ink pb-1 font-semibold">{heading(s)}</h2>
            )}
            <StepRow
              step={s}
              tick={e.standing.ticks[s.id]}
              next={s.id === next}
              at={turn && plan ? clock(new Date(e.airAt), plan.start - turn.start) : ''}
              whose={
                !several || !turn
                  ? ''
                  : turn.who.length === 0
                    ? w.nobody
                    : turn.who.length > 1
                      ? w.together
                      : w.person(turn.who[0]!)
              }
              add={add}
            />
          </div>
        )
      })}
    </section>
  )
}

function StepRow(p: {
  step: RunStep
  tick?: { done: boolean; failed: boolean; at: number; who?: string; said?: number }
  next: boolean
  at: string
  whose: string
  add: Add
}) {
  const { step: s, tick } = p
  const done = !!tick?.done
  return (
    <div
      className={`border-b border-hair ${p.next ? 'border-l-4 border-l-taut bg-wash pl-2' : ''}`}
      data-step={s.id}
      data-done={done || undefined}
    >
      <div className="flex min-h-14 items-center gap-3">
        <button
          role="checkbox"
          aria-checked={done}
          aria-label={s.do}
          className={`grid size-11 shrink-0 place-items-center rounded border-2 text-2xl ${
            done ? 'border-slack text-slack' : tick?.failed ? 'border-snapped text-snapped' : 'border-muted'
          }`}
          onClick={() => void p.add({ kind: done ? 'untick' : 'tick', step: s.id })}
        >
          {done ? '✓' : tick?.failed ? '×' : ''}
        </button>
        <span className="w-12 shrink-0 text-sm text-muted tabular-nums">{p.at}</span>
        <span className={`min-w-0 flex-1 py-2 ${done ? 'text-muted' : ''}`}>
          {p.next && <b>{w.next}: </b>}
          {s.do}
          {p.whose && <span className="text-sm text-muted"> · {p.whose}</span>}
          {done && (
            <span className="text-sm">
              {' '}
              · {time(tick!.at)}
              {tick!.who ? ` ${tick!.who}` : ''}
              {tick!.said ? ` (${w.clockAhead(time(tick!.said))})` : ''}
            </span>
          )}
        </span>
        {s.pass.length > 0 && !done && (
          <button className="act min-h-11 shrink-0" onClick={() => void p.add({ kind: 'fail', step: s.id })}>
            {w.failed}
          </button>
        )}
      </div>
      {!done && (s.values.length > 0 || s.pass.length > 0 || s.caution) && (
        <details open={p.next || tick?.failed} className="pl-14 max-sm:pl-0">
          <summary className="cursor-pointer pb-2 text-sm text-muted">
            {s.values.length > 0 ? words.run.values : words.run.pass}
          </summary>
          <More step={s} />
        </details>
      )}
    </div>
  )
}

/** What somebody wants to remember, in words; keys are taken out before it is kept. */
function Notes({ now: e, add }: { now: Night; add: Add }) {
  const [text, setText] = useState('')
  return (
    <section className="mt-8" data-testid="notes">
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.notes}</h2>
      <ul>
        <Latest
          of={e.standing.notes}
          each={(k) => (
            <li key={k.id} className="border-b border-hair py-1 break-words">
              <span className="text-muted tabular-nums">{time(k.op.at)}</span> {k.op.text}
            </li>
          )}
        />
      </ul>
      <form
        className="mt-2 flex gap-3"
        onSubmit={(x) => {
          x.preventDefault()
          if (!text.trim()) return
          void add({ kind: 'note', text: text.trim() })
          setText('')
        }}
      >
        <input
          className="field min-w-0 flex-1"
          aria-label={w.note}
          maxLength={2000}
          value={text}
          onChange={(x) => setText(x.target.value)}
        />
        <button className="act">{w.add}</button>
      </form>
    </section>
  )
}

import { useMutation, useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { flushSync } from 'react-dom'
import { useNavigate } from 'react-router'
import {
  api,
  type Board,
  type Failure,
  type RunPlan,
  type RunSheet,
  type RunStep,
  runSheetAddress,
} from '../api/client'
import { keys } from '../api/keys'
import { Problems } from '../parts/Frame'
import { RigPage } from '../parts/RigPage'
import { words } from '../words'
import { clock, figure, nextAir } from './clock'
import { PlanView } from './PlanView'

const w = words.run

/** What is done tonight, in which order, by whom, and when it must begin. */
export function RunPage() {
  const [people, setPeople] = useState(1)
  const [air, setAir] = useState<string>()
  return (
    <RigPage
      title={w.title}
      line={(now) => <Line now={now} people={people} air={new Date(air ?? nextAir(now.rig.show.startsAt))} />}
    >
      {(now) => (
        <Run
          now={now}
          people={people}
          setPeople={setPeople}
          air={air ?? nextAir(now.rig.show.startsAt)}
          setAir={setAir}
        />
      )}
    </RigPage>
  )
}

const useSheet = (now: Board, people: number) =>
  useQuery({
    queryKey: keys.runSheet(now.id, now.revision, Math.max(people, 2)),
    queryFn: () => api.runSheet(now.id, Math.max(people, 2)),
    placeholderData: (was) => was,
  })

function Line({ now, people, air }: { now: Board; people: number; air: Date }) {
  const { data } = useSheet(now, people)
  if (!data) return words.board.loading
  if (Number.isNaN(air.getTime())) return w.times
  const plan = data.plans[Math.min(people, data.plans.length) - 1]!
  return (
    <>
      <b>{w.settled}</b> {w.begins(clock(air, plan.start), people)} {data.first.length === 0 && w.nothingOpen}
    </>
  )
}

function Run(p: {
  now: Board
  people: number
  setPeople: (n: number) => void
  air: string
  setAir: (t: string) => void
}) {
  const { data, error } = useSheet(p.now, p.people)
  const go = useNavigate()
  const [only, setOnly] = useState(false)
  const [all, setAll] = useState(false)
  useEffect(() => {
    const open = () => flushSync(() => setAll(true)) // on paper nothing can be folded out
    window.addEventListener('beforeprint', open)
    return () => window.removeEventListener('beforeprint', open)
  }, [])
  const air = new Date(p.air)
  const wrong = Number.isNaN(air.getTime())
  const [id] = useState(() => crypto.randomUUID())
  const open = useMutation({
    mutationFn: () => api.openNight(p.now.id, { id, airAt: air.toISOString(), people: p.people }),
    onSuccess: (e) => void go(`/nights/${e.id}`),
  })
  if (error && !data) return <Problems error={error as Failure} />
  if (!data) return <p role="status">{words.board.loading}</p>
  const plan = data.plans[Math.min(p.people, data.plans.length) - 1]!
  const changed = data.steps.filter((s) => s.change && s.change !== 'same')
  const steps = only ? changed : data.steps
  return (
    <>
      <div className="mb-4 flex flex-wrap items-end gap-x-6 gap-y-3 print:hidden">
        <label className="text-sm">
          <span className="block text-muted">{w.air}</span>
          <input
            type="datetime-local"
            className="field"
            value={p.air}
            onChange={(e) => e.target.value && p.setAir(e.target.value)}
          />
        </label>
        <label className="text-sm">
          <span className="block text-muted">{w.who}</span>
          <select className="field" value={p.people} onChange={(e) => p.setPeople(Number(e.target.value))}>
            {[1, 2, 3, 4].map((n) => (
              <option key={n} value={n}>
                {w.people(n)}
              </option>
            ))}
          </select>
        </label>
        <button
          className="act act-main"
          title={w.beginHelp}
          disabled={open.isPending || wrong}
          onClick={() => open.mutate()}
        >
          {w.begin}
        </button>
        <p className="ml-auto flex flex-wrap gap-x-4 text-sm">
          {(['text', 'markdown', 'ical', 'json'] as const).map((as) => (
            <a
              key={as}
              className="quiet"
              download
              href={wrong ? undefined : runSheetAddress(p.now.id, as, p.people, air)}
            >
              {w.exports[as]}
            </a>
          ))}
          <button className="quiet" onClick={() => window.print()}>
            {w.print}
          </button>
        </p>
      </div>
      {open.error && <Problems error={open.error as Failure} />}
      <h1 className="hidden text-xl font-semibold print:block">
        {w.title}: {data.rig}
      </h1>
      {data.first.length > 0 && (
        <ul className="mb-4 space-y-1 border-l-4 border-taut pl-4" data-testid="first">
          {data.first.map((f) => (
            <li key={f}>{f}</li>
          ))}
        </ul>
      )}
      {!wrong && <Plans sheet={data} air={air} />}
      <PlanView sheet={data} plan={plan} air={air} />
      <div className="mt-6 flex flex-wrap items-center gap-x-6 gap-y-2 text-sm print:hidden">
        {changed.length < data.steps.length && data.steps.some((s) => s.change) && (
          <label className="flex items-center gap-2">
            <input type="checkbox" checked={only} onChange={(e) => setOnly(e.target.checked)} />
            {w.changed} ({changed.length})
          </label>
        )}
        <button className="quiet" onClick={() => setAll(!all)}>
          {all ? w.closeAll : w.openAll}
        </button>
      </div>
      {data.gone.length > 0 && only && (
        <p className="mt-2 text-sm text-muted">
          {w.gone} {data.gone.join(' ')}
        </p>
      )}
      <div className="mt-3 gap-x-10 lg:columns-2 print:columns-2" data-testid="steps">
        {steps.map((s, i) => (
          <StepLine
            key={s.id}
            step={s}
            head={i === 0 || steps[i - 1]!.phase !== s.phase}
            plan={plan}
            air={air}
            all={all}
          />
        ))}
        <Packing sheet={data} />
      </div>
    </>
  )
}

function Plans({ sheet, air }: { sheet: RunSheet; air: Date }) {
  return (
    <ul className="mb-4 flex flex-wrap gap-x-10 gap-y-2">
      {sheet.plans.map((p) => (
        <li key={p.people}>
          <b className="text-lg tabular-nums">{clock(air, p.start)}</b>{' '}
          <span>{p.people === 1 ? w.alone : w.people(p.people)}</span>
          <span className="block text-sm text-muted">
            {w.work(Math.ceil(p.minutes), Math.round(p.start - p.minutes))}{' '}
            {p.proven ? w.proven : w.atLeast(Math.ceil(p.atLeast))}
          </span>
        </li>
      ))}
    </ul>
  )
}

function StepLine(p: { step: RunStep; head: boolean; plan: RunPlan; air: Date; all: boolean }) {
  const s = p.step
  const turn = p.plan.turns.find((t) => t.step === s.id)
  const more = s.values.length + s.pass.length + s.fails.length > 0 || s.caution || s.label
  const line = (
    <>
      <span className="w-12 shrink-0 tabular-nums">
        {turn ? clock(p.air, p.plan.start - turn.start) : ''}
      </span>
      <span className="min-w-0 flex-1">
        {s.do}
        {s.both && <span className="text-muted"> ({w.both})</span>}
        {s.change && s.change !== 'same' && s.change === 'new' && <b> {w.new}</b>}
      </span>
      <span className="shrink-0 text-right text-sm text-muted tabular-nums">
        {turn && turn.who.length > 0
          ? turn.who.join('+') + ' · '
          : s.people === 0
            ? w.unattended + ' · '
            : ''}
        {s.own ? '' : '~'}
        {figure(s.minutes)} {w.min}
        {turn?.critical && p.plan.people > 1 && (
          <span className="ml-1 font-semibold text-ink" title={w.critical} aria-label={w.critical}>
            !
          </span>
        )}
      </span>
    </>
  )
  return (
    <>
      {p.head && (
        <h2 className="mt-4 break-after-avoid border-b border-ink pb-1 font-semibold first:mt-0">
          {s.heading}
        </h2>
      )}
      {more ? (
        <details className="break-inside-avoid border-b border-hair" open={p.all} data-step={s.id}>
          <summary className="flex cursor-pointer gap-3 py-1.5">{line}</summary>
          <More step={s} />
        </details>
      ) : (
        <p className="flex break-inside-avoid gap-3 border-b border-hair py-1.5" data-step={s.id}>
          {line}
        </p>
      )}
    </>
  )
}

/** Everything a step says beside what to do. */
export function More({ step: s }: { step: RunStep }) {
  return (
    <div className="pb-2 pl-15 text-sm max-sm:pl-0">
      {s.values.length > 0 && (
        <dl className="values grid grid-cols-[auto_1fr] gap-x-4">
          {s.values.map((v) => (
            <div key={v.name} className="contents">
              <dt className="text-muted">{v.name}</dt>
              <dd className="min-w-0 break-words">
                {v.value}
                {v.proposed && <span className="text-muted"> ({w.proposed})</span>}
                {v.was && <b> ({w.was(v.was)})</b>}
              </dd>
            </div>
          ))}
        </dl>
      )}
      {s.label && (
        <p>
          <span className="text-muted">{w.label}: </span>
          <span className="border border-ink px-1">{s.label}</span>
        </p>
      )}
      {s.pass.length > 0 && (
        <ul aria-label={w.pass}>
          {s.pass.map((x) => (
            <li key={x}>→ {x}</li>
          ))}
        </ul>
      )}
      {s.fails.length > 0 && (
        <div className="mt-1 print:hidden">
          <p className="text-muted">{w.fails}</p>
          <ul className="list-disc pl-4">
            {s.fails.map((x) => (
              <li key={x}>{x}</li>
            ))}
          </ul>
        </div>
      )}
      {s.caution && <p className="mt-1 border-l-2 border-taut pl-2">{s.caution}</p>}
    </div>
  )
}

function Packing({ sheet }: { sheet: RunSheet }) {
  const bags = [...new Set(sheet.packing.map((x) => x.bag))]
  return (
    <section className="mt-4 break-inside-avoid">
      <h2 className="border-b border-ink pb-1 font-semibold">{w.packing}</h2>
      {bags.map((bag) => (
        <p key={bag} className="border-b border-hair py-1.5">
          <b>{bag}:</b>{' '}
          {sheet.packing
            .filter((x) => x.bag === bag)
            .map((x) => x.what + (w.whose[x.owned] ? ` (${w.whose[x.owned]})` : ''))
            .join(' · ')}
        </p>
      ))}
    </section>
  )
}

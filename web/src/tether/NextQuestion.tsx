import { memo, useState } from 'react'
import { Link, useParams } from 'react-router'
import type { Limit, Question } from '../api/client'
import { useNumber } from '../parts/useTyped'
import { words } from '../words'
import type { Change } from '../parts/change'

const w = words.board

/** The one unknown that would decide most, asked here: an answer is kept at once, and can be undone. */
export const NextQuestion = memo(function NextQuestion({
  questions,
  limits,
  keep,
  busy,
}: {
  questions: Question[]
  limits: Limit[]
  keep: (h: Change) => void
  busy?: boolean
}) {
  const [skipped, setSkipped] = useState<string[]>([])
  const left = questions.filter((q) => !skipped.includes(q.path))
  const q = left[0]
  if (!q)
    return (
      <p className="self-start border-l-2 border-hair pl-4 text-sm text-muted">
        {questions.length ? w.noMore : w.noQuestion}{' '}
        {questions.length > 0 && (
          <button className="quiet" onClick={() => setSkipped([])}>
            {w.askAgain}
          </button>
        )}
      </p>
    )
  return (
    <Ask
      key={q.path}
      q={q}
      limits={limits}
      keep={keep}
      busy={busy}
      later={left.length > 1 ? () => setSkipped([...skipped, q.path]) : undefined}
    />
  )
})

function Ask({
  q,
  limits,
  keep,
  busy,
  later,
}: {
  q: Question
  limits: Limit[]
  keep: (h: Change) => void
  busy?: boolean
  later?: () => void
}) {
  const { id } = useParams()
  const [all, setAll] = useState(true)
  const about = [...new Set(q.limits)].map((id) => limits.find((l) => l.id === id)?.what ?? id)
  const paths = all ? [q.path, ...q.alike.map((a) => a.path)] : [q.path]
  return (
    <section className="border-l-2 border-untested pl-4" data-testid="question" data-path={q.path}>
      <p className="text-xs text-muted">{q.flaw ? w.nextFlaw : w.next}</p>
      <p className="font-semibold break-words">{q.ask}</p>
      <p className="text-sm text-muted">
        {q.how} ~{words.hop.minutes(q.minutes)}
      </p>
      {q.alike.length > 0 && (
        <label className="mt-1 flex items-start gap-2 text-sm">
          <input
            type="checkbox"
            className="h-6 w-6 shrink-0 accent-[var(--ink)]"
            checked={all}
            onChange={(e) => setAll(e.target.checked)}
          />
          <span className="min-w-0 break-words">
            {w.sameFor(q.alike.length + 1)}{' '}
            <span className="text-muted">{words.few(q.alike.map((a) => a.label))}</span>
          </span>
        </label>
      )}
      {q.clip && (
        <p className="mt-2 text-sm">
          <Link className="underline" to={`/rigs/${id}/look?of=${encodeURIComponent(q.clip)}`}>
            {w.clipTells}
          </Link>
        </p>
      )}
      {q.answers.length > 0 && (
        <div className="mt-2 flex flex-wrap gap-2">
          {q.answers.map((a) => (
            <button
              key={a.label}
              className="act text-sm"
              disabled={busy}
              onClick={() => keep({ edits: all ? a.all : a.edits, what: `${q.ask} ${a.label}` })}
            >
              {a.label}
            </button>
          ))}
        </div>
      )}
      {q.unit !== '' && q.number && (
        <NumberAnswer
          q={q}
          busy={busy}
          answer={(value, text) =>
            keep({
              edits: paths.map((path) => ({ do: 'fact', path, fact: { value, from: 'given' } })),
              what: `${q.ask} ${text} ${q.unit}`,
            })
          }
        />
      )}
      <div className="mt-2 flex items-start gap-4 text-sm">
        <details>
          <summary className="text-muted">
            {w.decides} {about.length}
          </summary>
          <ul className="mt-1 list-disc pl-5 [overflow-wrap:anywhere]">
            {about.map((t) => (
              <li key={t}>{t}</li>
            ))}
          </ul>
        </details>
        {later && (
          <button className="quiet" onClick={later}>
            {w.later}
          </button>
        )}
      </div>
    </section>
  )
}

function NumberAnswer({
  q,
  busy,
  answer,
}: {
  q: Question
  busy?: boolean
  answer: (value: number, text: string) => void
}) {
  const typed = useNumber({ unit: q.unit }, '')
  return (
    <form
      className="mt-2 flex flex-wrap items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault()
        void typed.read().then((v) => v !== undefined && answer(v, typed.text!.trim()))
      }}
    >
      <input
        className="field w-24 text-right"
        aria-label={`${q.ask} (${q.unit})`}
        aria-invalid={!!typed.wrong}
        placeholder={String(q.value)}
        value={typed.text}
        onChange={(e) => typed.set(e.target.value)}
      />
      <span>{q.unit}</span>
      <button className="act text-sm" disabled={!typed.text?.trim() || busy}>
        {w.answer}
      </button>
      {typed.wrong && (
        <span role="alert" className="text-sm text-snapped">
          {typed.wrong}
        </span>
      )}
    </form>
  )
}

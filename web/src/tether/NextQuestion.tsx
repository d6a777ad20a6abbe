import { useState } from 'react'
import type { Limit, Question } from '../api/client'
import { words } from '../words'
import type { Change } from '../parts/change'

const w = words.board

/** The one unknown that would decide most, asked here; the answer is shown before it is kept. */
export function NextQuestion({
  questions,
  limits,
  hold,
}: {
  questions: Question[]
  limits: Limit[]
  hold: (h: Change) => void
}) {
  const q = questions[0]
  if (!q) return <p className="self-start border-l-2 border-hair pl-4 text-sm text-muted">{w.noQuestion}</p>
  const about = [...new Set(q.limits)].map((id) => limits.find((l) => l.id === id)?.what ?? id)
  return (
    <section className="border-l-2 border-untested pl-4" data-testid="question">
      <p className="text-xs text-muted">{w.next}</p>
      <p className="font-semibold">{q.ask}</p>
      <p className="text-sm text-muted">
        {q.how} ~{words.hop.minutes(q.minutes)}
      </p>
      {q.answers.length > 0 ? (
        <div className="mt-2 flex flex-wrap gap-2">
          {q.answers.map((a) => (
            <button
              key={a.label}
              className="act text-sm"
              onClick={() => hold({ edits: a.edits, what: `${q.ask} ${a.label}` })}
            >
              {a.label}
            </button>
          ))}
        </div>
      ) : (
        <NumberAnswer key={q.path} q={q} hold={hold} />
      )}
      <details className="mt-2 text-sm">
        <summary className="text-muted">
          {w.decides} {about.length}
        </summary>
        <ul className="mt-1 list-disc pl-5">
          {about.map((t) => (
            <li key={t}>{t}</li>
          ))}
        </ul>
      </details>
    </section>
  )
}

function NumberAnswer({ q, hold }: { q: Question; hold: (h: Change) => void }) {
  const [text, setText] = useState('')
  const value = Number(text.replace(',', '.'))
  const ok = text.trim() !== '' && Number.isFinite(value)
  return (
    <form
      className="mt-2 flex items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault()
        if (ok)
          hold({
            edits: [{ do: 'fact', path: q.path, fact: { value, from: 'given' } }],
            what: `${q.ask} ${text.trim()} ${q.unit}`,
          })
      }}
    >
      <input
        className="field w-24 text-right"
        inputMode="decimal"
        aria-label={`${q.ask} (${q.unit})`}
        placeholder={String(q.value)}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <span>{q.unit}</span>
      <button className="act text-sm" disabled={!ok}>
        {w.answer}
      </button>
    </form>
  )
}

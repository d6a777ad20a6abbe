import { useState } from 'react'
import type { Op } from '../api/client'
import { words } from '../words'
import type { Cut } from './useNight'
import type { Refused } from './queue'
import { fieldOf, texts, withoutUnseen } from './texts'

const w = words.night

/** What the log would not take: each with why, to be mended and sent again, or set aside. Nothing waits for it. */
export function RefusedList(p: {
  refused: Refused[]
  mend: (op: Op) => void
  setAside: (r: Refused, aside: boolean) => void
}) {
  const open = p.refused.filter((r) => !r.aside)
  const aside = p.refused.filter((r) => r.aside)
  if (p.refused.length === 0) return null
  return (
    <section className="mt-2" data-testid="refused" aria-label={w.refused}>
      {open.length > 0 && (
        <div role="alert" className="border-l-4 border-snapped pl-3">
          <p className="font-semibold">{w.refusedSays(open.length)}</p>
          {open.map((r) => (
            <One key={r.op.id} of={r} mend={p.mend} put={() => p.setAside(r, true)} />
          ))}
        </div>
      )}
      {aside.length > 0 && (
        <details className="mt-1 text-sm">
          <summary className="cursor-pointer text-muted">{w.aside(aside.length)}</summary>
          {aside.map((r) => (
            <p key={r.op.id} className="border-b border-hair py-1 break-words">
              {said(r.op)}{' '}
              <button className="quiet" onClick={() => p.setAside(r, false)}>
                {w.takeUp}
              </button>
            </p>
          ))}
        </details>
      )}
    </section>
  )
}

/** What an operation says, in a line. */
function said(op: Op): string {
  const text = op.text ?? op.incident?.what ?? op.figure?.what ?? op.step ?? ''
  return `${w.ops[op.kind] ?? op.kind}${text ? `: ${text}` : ''}`
}

function One({ of: r, mend, put }: { of: Refused; mend: (op: Op) => void; put: () => void }) {
  const field = r.field ?? ''
  const was = field ? fieldOf(r.op, field).get() : undefined
  const typed = (texts as readonly string[]).includes(field) || field === 'who'
  const number = field === 'figure.value' || field === 'incident.minutesLost'
  const [text, setText] = useState(String(was ?? ''))
  const plain = typeof was === 'string' ? withoutUnseen(was) : ''
  const figure = Number(text.trim().replace(',', '.'))
  const wrong = number && (text.trim() === '' || !Number.isFinite(figure))
  return (
    <div className="py-2 text-sm" data-refused={r.op.id}>
      <p className="break-words">
        <b>{said(r.op)}</b>
      </p>
      <p className="break-words">{w.why(r.why)}</p>
      <div className="mt-1 flex flex-wrap items-center gap-3">
        {typed && plain !== was && plain.trim() !== '' && (
          <button className="act act-main" onClick={() => mend(fieldOf(r.op, field).set(plain))}>
            {w.sendPlain}
          </button>
        )}
        {(typed || number) && (
          <form
            className="flex min-w-0 flex-1 gap-3 max-sm:basis-full"
            onSubmit={(x) => {
              x.preventDefault()
              if (!wrong) mend(fieldOf(r.op, field).set(number ? figure : text))
            }}
          >
            <input
              className="field min-w-0 flex-1"
              aria-label={w.mendIt}
              aria-invalid={wrong}
              value={text}
              onChange={(x) => setText(x.target.value)}
            />
            <button className="act">{w.sendAgain}</button>
          </form>
        )}
        <button className="quiet" onClick={put}>
          {w.setAside}
        </button>
      </div>
    </div>
  )
}

/** What was taken out because it looks like a key: shown in this page alone, to be put back where it is none. */
export function Cuts(p: { cuts: Cut[]; putBack: (c: Cut) => void; leaveOut: (c: Cut) => void }) {
  return p.cuts.map((c) => (
    <p
      key={c.id}
      className="mt-2 flex flex-wrap items-center gap-3 border-l-4 border-taut pl-3"
      data-testid="cut"
    >
      <span className="min-w-0 break-words">{w.cut(c.words)}</span>
      <button className="quiet" onClick={() => p.putBack(c)}>
        {w.putBack}
      </button>
      <button className="quiet" onClick={() => p.leaveOut(c)}>
        {w.leaveOut}
      </button>
    </p>
  ))
}

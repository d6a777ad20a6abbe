import { useState } from 'react'
import type { Verdict } from '../api/client'
import type { Change } from '../parts/change'
import { words } from '../words'
import { takes } from './Findings'

const w = words.board

/** The moves under the sentence, in the order one would do them: all of them, some of them or one can be held. */
export function Cure({ cure, hold }: { cure: NonNullable<Verdict['cure']>; hold: (h: Change) => void }) {
  const [out, setOut] = useState<string[]>([])
  const chosen = cure.moves.filter((m) => !out.includes(m.id))
  return (
    <div className="mt-2 sm:ml-[60px]" data-testid="cure">
      <ol className="text-[14px] leading-5">
        {cure.moves.map((m, i) => (
          <li key={m.id} className="flex items-start gap-2 py-1">
            <label className="flex min-w-0 flex-1 items-start gap-2">
              <input
                type="checkbox"
                className="mt-0.5 h-6 w-6 shrink-0 accent-[var(--ink)]"
                checked={!out.includes(m.id)}
                onChange={(e) => setOut(e.target.checked ? out.filter((id) => id !== m.id) : [...out, m.id])}
              />
              <span className="min-w-0 break-words">
                {i + 1}. {m.label}{' '}
                <span className="text-muted">
                  ({takes(m)}
                  {m.givesUp ? `; ${words.hop.givesUp} ${m.givesUp}` : ''})
                </span>
              </span>
            </label>
            {cure.moves.length > 1 && (
              <button
                className="quiet min-h-6 text-sm"
                aria-label={`${w.alone}: ${m.label}`}
                onClick={() => hold({ edits: m.edits, what: m.label })}
              >
                {w.alone}
              </button>
            )}
          </li>
        ))}
      </ol>
      <button
        className="act mt-1 text-sm"
        disabled={!chosen.length}
        onClick={() =>
          hold({ edits: chosen.flatMap((m) => m.edits), what: chosen.map((m) => m.label).join('; ') })
        }
      >
        {chosen.length === cure.moves.length ? w.cure : w.cureSome(chosen.length)}
      </button>
    </div>
  )
}

/** What is proposed for choices nobody has made, as one sentence; taking them all is one change. */
export function Proposed({
  proposed: p,
  keep,
}: {
  proposed: Verdict['proposed']
  keep?: (h: Change) => void
}) {
  if (!p.words) return null
  return (
    <p className="mt-2 text-[14px] leading-5 break-words sm:ml-[60px]" data-testid="proposed">
      <b className="font-semibold">{w.proposed}:</b> {p.words}{' '}
      {!p.proven && <span className="text-muted">{w.notProven} </span>}
      {keep && (
        <button
          className="quiet font-semibold"
          onClick={() => keep({ edits: p.edits, what: w.takeProposed })}
        >
          {w.takeProposed}
        </button>
      )}
    </p>
  )
}

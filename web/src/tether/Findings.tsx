import type { Move, Verdict } from '../api/client'
import { Glyph } from '../parts/Rope'
import { StateWord } from '../parts/StateWord'
import { words } from '../words'
import type { Change } from '../parts/change'

/** Every limit that is not slack, one step below the sentence, with its best fix. */
export function Findings({
  verdict,
  advising,
  hold,
}: {
  verdict: Verdict
  /** More advice is on its way. */
  advising?: boolean
  hold?: (h: Change) => void
}) {
  return (
    <section aria-labelledby="findings">
      <h2 id="findings" className="text-lg font-semibold">
        {words.board.findings}
      </h2>
      {verdict.findings.length === 0 && <p className="mt-1 text-muted">{words.board.noFindings}</p>}
      <ul className="mt-2 border-t border-hair">
        {verdict.findings.map((f) => (
          <li key={f.limit} className="flex gap-4 border-b border-hair py-2" data-finding={f.limit}>
            <Glyph state={f.state} />
            <div className="min-w-0 flex-1">
              <p>
                <StateWord state={f.state} /> {f.says}
              </p>
              {hold && f.fixes[0] && <Fix move={f.fixes[0]} hold={hold} />}
            </div>
          </li>
        ))}
      </ul>
      <Advice verdict={verdict} advising={advising} />
    </section>
  )
}

/** How far the advice got, where it is not whole. */
function Advice({ verdict, advising }: { verdict: Verdict; advising?: boolean }) {
  const a = verdict.advice
  if (!a) return null
  const notes = advising
    ? [words.board.advising]
    : [
        a.judged < a.moves && words.board.unfinished(a.judged, a.moves),
        verdict.state === 'snapped' && !a.cureProven && words.board.unproven,
        a.unlisted > 0 && words.board.unlisted(a.unlisted),
      ].filter((n) => n !== false)
  if (!notes.length) return null
  return (
    <p role="status" data-testid="advice" className="mt-2 text-sm text-muted">
      {notes.join(' ')}
    </p>
  )
}

/** One move as a line: what to do, what it costs, what it would bring. */
export function Fix({ move: m, hold }: { move: Move; hold: (h: Change) => void }) {
  const cost = [
    words.hop.minutes(m.minutes),
    m.cost && `~${m.cost.amount} ${m.cost.currency} ${words.hop.est}`,
  ]
    .filter(Boolean)
    .join(', ')
  return (
    <p className="mt-0.5 text-sm">
      <button className="quiet font-semibold" onClick={() => hold({ edits: m.edits, what: m.label })}>
        {words.board.try}
      </button>{' '}
      {m.label} <span className="text-muted">({cost})</span>
      {m.givesUp && (
        <span className="text-taut">
          {' '}
          {words.hop.givesUp} {m.givesUp}
        </span>
      )}
    </p>
  )
}

import { memo, useState } from 'react'
import type { Finding, Move, Verdict } from '../api/client'
import { Glyph } from '../parts/Rope'
import { StateWord } from '../parts/StateWord'
import { words } from '../words'
import type { Change } from '../parts/change'

const w = words.board
type Kind = NonNullable<Finding['members'][number]['lacks']>

/** What is to be known of the rig, one step below the sentence: what is the same thing of several is one finding. */
export const Findings = memo(function Findings({
  verdict,
  advising,
  hold,
  lit,
  light,
  missing,
}: {
  verdict: Verdict
  /** The way to put in what is said to be used and is not there. */
  missing?: (kind: Kind) => React.ReactNode
  /** More advice is on its way. */
  advising?: boolean
  hold?: (h: Change) => void
  /** Ids of the limits that are pointed at, on the board or here. */
  lit?: string[]
  light?: (limits: string[] | undefined) => void
}) {
  return (
    <section aria-labelledby="findings">
      <h2 id="findings" className="text-lg font-semibold">
        {w.findings}
      </h2>
      {verdict.findings.length === 0 && <p className="mt-1 text-muted">{w.noFindings}</p>}
      <ul className="mt-2 border-t border-hair">
        {verdict.findings.map((f) => (
          <One
            key={`${f.state}/${f.members[0]!.limit}`}
            finding={f}
            hold={hold}
            lit={lit}
            light={light}
            missing={missing}
          />
        ))}
      </ul>
      <Advice verdict={verdict} advising={advising} />
    </section>
  )
})

function One({
  finding: f,
  hold,
  lit,
  light,
  missing,
}: {
  finding: Finding
  missing?: (kind: Kind) => React.ReactNode
  hold?: (h: Change) => void
  lit?: string[]
  light?: (limits: string[] | undefined) => void
}) {
  const [open, setOpen] = useState(false)
  const limits = f.members.map((m) => m.limit)
  const on = lit?.some((id) => limits.includes(id))
  const several = f.members.length > 1
  const fix = best(f.members[0]!)
  return (
    <li
      className={`-mx-2 flex gap-4 border-b border-hair px-2 py-2 ${on ? 'bg-wash' : ''}`}
      data-finding={limits[0]}
      data-state={f.state}
      data-lit={on || undefined}
      onMouseEnter={() => light?.(limits)}
      onMouseLeave={() => light?.(undefined)}
      onFocus={() => light?.(limits)}
      onBlur={() => light?.(undefined)}
    >
      <Glyph state={f.state} />
      <div className="min-w-0 flex-1">
        <p className="break-words">
          <StateWord state={f.state} /> {f.says}
        </p>
        {hold && fix && !open && <Fix move={fix} hold={hold} less={!f.members[0]!.fixes[0]} />}
        {f.members[0]!.lacks && missing?.(f.members[0]!.lacks)}
        {several && (
          <button
            className="quiet min-h-6 text-sm text-muted"
            aria-expanded={open}
            onClick={() => setOpen(!open)}
          >
            {open ? w.fold : w.unfold(f.members.length)}
          </button>
        )}
        {open && (
          <ul className="mt-1 border-l border-hair pl-3 text-sm">
            {f.members.map((m) => (
              <li key={m.limit} className="py-1 break-words" data-member={m.limit}>
                {m.says}
                {hold && best(m) && <Fix move={best(m)!} hold={hold} less={!m.fixes[0]} />}
              </li>
            ))}
          </ul>
        )}
      </div>
    </li>
  )
}

/** What mends it; where nothing is sure to, what makes it less. */
function best(m: Finding['members'][number]): Move | undefined {
  return m.fixes[0] ?? m.eases[0]
}

/** How far the advice got, where it is not whole. */
function Advice({ verdict, advising }: { verdict: Verdict; advising?: boolean }) {
  const a = verdict.advice
  if (!a) return null
  const notes = advising
    ? [w.advising]
    : [
        a.judged < a.moves && w.unfinished(a.judged, a.moves),
        verdict.state === 'snapped' && !a.cureProven && w.unproven,
        a.unlisted > 0 && w.unlisted(a.unlisted),
      ].filter((n) => n !== false)
  if (!notes.length) return null
  return (
    <p role="status" data-testid="advice" className="mt-2 text-sm text-muted">
      {notes.join(' ')}
    </p>
  )
}

/** What a move takes, in a few words. */
export function takes(m: Move): string {
  return [words.hop.minutes(m.minutes), m.cost && `~${m.cost.amount} ${m.cost.currency} ${words.hop.est}`]
    .filter(Boolean)
    .join(', ')
}

/** One move as a line: what to do, what it costs, what it would bring; of one that settles nothing, how much less it makes it. */
export function Fix({ move: m, hold, less }: { move: Move; hold: (h: Change) => void; less?: boolean }) {
  return (
    <p className="mt-0.5 text-sm leading-6 break-words">
      <button className="quiet font-semibold" onClick={() => hold({ edits: m.edits, what: m.label })}>
        {w.try}
      </button>{' '}
      {m.label} <span className="text-muted">({takes(m)})</span>
      {m.givesUp && (
        <span className="text-taut">
          {' '}
          {words.hop.givesUp} {m.givesUp}
        </span>
      )}
      {less && m.judged && <span className="text-muted"> · {m.judged.words}</span>}
    </p>
  )
}

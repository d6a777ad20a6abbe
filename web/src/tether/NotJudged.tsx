import type { Verdict } from '../api/client'
import { words } from '../words'

/** What no rule looks at, by name: silence is never slack. */
export function NotJudged({ verdict }: { verdict: Verdict }) {
  if (!verdict.notJudged.length) return null
  return (
    <section aria-labelledby="not-judged" className="mt-8">
      <h2 id="not-judged" className="text-lg font-semibold">
        {words.board.notJudged}
      </h2>
      <p className="text-sm text-muted">{words.board.notJudgedHelp}</p>
      <ul className="mt-2 border-t border-hair text-sm">
        {verdict.notJudged.map((n) => (
          <li
            key={`${n.kind}/${n.ref}`}
            className="border-b border-hair py-1.5 break-words"
            data-not-judged={n.ref}
          >
            <b>{n.label}</b> <span className="text-muted">{n.why}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}

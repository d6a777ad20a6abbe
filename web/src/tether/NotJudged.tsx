import { memo } from 'react'
import type { Verdict } from '../api/client'
import { ListSection } from '../parts/ListSection'
import { words } from '../words'

/** What no rule looks at, by name: silence is never slack. */
export const NotJudged = memo(function NotJudged({ verdict }: { verdict: Verdict }) {
  if (!verdict.notJudged.length) return null
  return (
    <ListSection
      id="not-judged"
      title={words.board.notJudged}
      help={words.board.notJudgedHelp}
      className="mt-8"
    >
      {verdict.notJudged.map((n) => (
        <li
          key={`${n.kind}/${n.ref}`}
          className="border-b border-hair py-1.5 text-sm break-words"
          data-not-judged={n.ref}
        >
          <b>{n.label}</b> <span className="text-muted">{n.why}</span>
        </li>
      ))}
    </ListSection>
  )
})

import { memo } from 'react'
import type { Verdict } from '../api/client'
import { ListSection } from '../parts/ListSection'
import { Glyph } from '../parts/Rope'
import { StateWord } from '../parts/StateWord'
import { words } from '../words'

/** Where pictures go besides the computer, each with what holds it back. */
export const Branches = memo(function Branches({ verdict }: { verdict: Verdict }) {
  if (!verdict.branches.length) return null
  const limits = new Map(verdict.limits.map((l) => [l.id, l]))
  return (
    <ListSection id="branches" title={words.board.branches} help={words.board.branchesHelp} className="mt-8">
      {verdict.branches.map((b) => {
        const worst = b.hops
          .flatMap((h) => h.limits.map((id) => limits.get(id)))
          .find((l) => l?.state === b.state)
        const end = b.hops.at(-1)
        return (
          <li
            key={b.id}
            className="flex gap-4 border-b border-hair py-2"
            data-branch={b.id}
            data-state={b.state}
          >
            <Glyph state={b.state} />
            <div className="min-w-0 flex-1">
              <p className="font-semibold break-words">{words.board.branch(b.label, end?.label ?? '')}</p>
              <p className="text-[13px] leading-4 text-muted">
                <StateWord state={b.state} /> {b.state !== 'slack' && worst?.says}
              </p>
            </div>
          </li>
        )
      })}
    </ListSection>
  )
})

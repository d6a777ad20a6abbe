import type { Verdict } from '../api/client'
import { Glyph } from '../parts/Rope'
import { StateWord } from '../parts/StateWord'
import { words } from '../words'

/** Where pictures go besides the computer, each with what holds it back. */
export function Branches({ verdict }: { verdict: Verdict }) {
  if (!verdict.branches.length) return null
  const limits = new Map(verdict.limits.map((l) => [l.id, l]))
  return (
    <section aria-labelledby="branches" className="mt-8">
      <h2 id="branches" className="text-lg font-semibold">
        {words.board.branches}
      </h2>
      <p className="text-sm text-muted">{words.board.branchesHelp}</p>
      <ul className="mt-2 border-t border-hair">
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
      </ul>
    </section>
  )
}

import { memo } from 'react'
import type { Feed, Verdict } from '../api/client'
import { Glyph } from '../parts/Rope'
import { StateWord } from '../parts/StateWord'
import { words } from '../words'
import type { HopAt } from './hops'

/** The board where it is too narrow for it: a column of tethers, one source a card's width, its hops one below the other. */
export const Column = memo(function Column({
  verdict,
  open,
  onOpen,
}: {
  verdict: Verdict
  open?: HopAt
  onOpen: (at: HopAt) => void
}) {
  return (
    <div data-testid="column" className="grid items-start gap-x-10 md:grid-cols-2">
      {verdict.feeds.map((f) => (
        <Tether key={f.id} feed={f} open={open} onOpen={onOpen} />
      ))}
      {verdict.outs.map((o, i) => (
        <div key={i} className="flex min-w-0 items-start gap-3 border-t border-hair py-2">
          <Glyph state={o.state} room={o.room} />
          <div className="min-w-0">
            <p className="font-semibold break-words">{o.label}</p>
            <p className="text-sm break-words text-muted">
              {o.judged && o.state !== 'slack' && <StateWord state={o.state} />} {o.figure} {o.detail}
            </p>
          </div>
        </div>
      ))}
    </div>
  )
})

function Tether({ feed: f, open, onOpen }: { feed: Feed; open?: HopAt; onOpen: (at: HopAt) => void }) {
  return (
    <section className="min-w-0 border-t border-hair py-2" data-feed={f.id} data-state={f.state}>
      <h2 className="flex items-start gap-3">
        <Glyph state={f.state} />
        <span className="min-w-0 font-semibold break-words">
          {f.label} <StateWord state={f.state} />
        </span>
      </h2>
      <ol className="ml-[56px]">
        {f.hops.map((h, index) => (
          <li key={index}>
            <button
              className="hop flex w-full items-start justify-between gap-3 rounded py-1 text-left text-sm"
              data-state={h.state}
              aria-pressed={open?.feed === f.id && open.index === index}
              onClick={() => onOpen({ feed: f.id, index })}
            >
              <span className="min-w-0 flex-1 break-words">
                {h.label} {h.detail && <span className="text-muted">{h.detail}</span>}{' '}
                {h.proposed && (
                  <i className="text-muted">
                    {h.stage === 'camera' ? words.board.proposedPower : words.board.proposedHop}
                  </i>
                )}
              </span>
              <span className="max-w-[45%] text-right break-words">
                {h.state !== 'slack' && <StateWord state={h.state} />} {h.figure}
              </span>
            </button>
          </li>
        ))}
      </ol>
    </section>
  )
}

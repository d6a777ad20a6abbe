import type { Sending } from '../api/client'
import { Glyph } from '../parts/Rope'
import { StateWord } from '../parts/StateWord'
import { bounds } from '../tether/figures'
import { words } from '../words'
import type { Hold } from './SendPage'

const w = words.send

const mbps = (kbps: number) => bounds(kbps / 1000, kbps / 1000, 'Mb/s')

/** The ladder of sizes and rates: what each rung takes of the line and gives up, and the best the line carries. */
export function Ladder({ send, hold, free }: { send: Sending; hold: Hold; free: boolean }) {
  const p = send.plan
  if (!p.best.length) return null
  return (
    <section className="mt-6" aria-labelledby="ladder">
      <h2 id="ladder" className="border-b border-ink pb-1 font-semibold">
        {w.ladder}
      </h2>
      <p className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-2" data-testid="best">
        <Glyph state={p.state} />
        <span className="min-w-0 flex-1">
          {p.gains}{' '}
          {p.best
            .map((b) =>
              b.label ? `${b.destination}: ${b.label}, ${b.kbps} kb/s.` : `${b.destination}: ${w.leftOut}.`,
            )
            .join(' ')}{' '}
          <span className="text-muted">{w.line(mbps(p.sureKbps), mbps(p.slackKbps), mbps(p.nowKbps))}</span>
        </span>
        {!p.same && p.edits.length > 0 && (
          <button
            className="act"
            disabled={!free}
            onClick={() => hold('best', { edits: p.edits, what: w.tookBest })}
          >
            {w.holdBest}
          </button>
        )}
      </p>
      <div className="overflow-x-auto">
        <table className="mt-2 w-full text-sm">
          <thead>
            <tr className="text-left text-xs text-muted">
              <th className="py-1 font-normal">{w.rung}</th>
              <th className="px-3 text-right font-normal">{w.needs}</th>
              <th className="px-3 text-right font-normal">{w.wouldNeed}</th>
              <th className="px-3 font-normal">{w.stands}</th>
              <th className="font-normal">{w.givesUp}</th>
            </tr>
          </thead>
          <tbody>
            {p.rungs.map((r) => (
              <tr key={r.label} className={`border-t border-hair ${r.now ? 'bg-wash font-semibold' : ''}`}>
                <th scope="row" className="py-0.5 text-left font-[inherit]">
                  {r.label}
                  {r.now && <span className="sr-only"> ({w.sentNow})</span>}
                </th>
                <td className="px-3 text-right tabular-nums">{r.taken ? mbps(r.needKbps) : w.nobodyTakes}</td>
                <td className="px-3 text-right tabular-nums">{r.taken ? mbps(r.lineKbps) : ''}</td>
                <td className="px-3">{r.taken > 0 && <StateWord state={r.state} />}</td>
                <td>{r.givesUp}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  )
}

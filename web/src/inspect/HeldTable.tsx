import { Glyph } from '../parts/Rope'
import { StateWord } from '../parts/StateWord'
import { words } from '../words'
import type { Held } from './clip'

const w = words.inspect

/** A part of the encoder sheet, line by line, beside what arrived: what is not as it is set stands open, the rest is folded. */
export function HeldTable({
  held: h,
  said,
}: {
  held: Held
  /** What stands above it already. */ said?: string
}) {
  const off = h.lines.filter((l) => l.state !== 'slack' && !l.hidden)
  const right = h.lines.filter((l) => l.state === 'slack')
  const hidden = h.lines.filter((l) => l.hidden)
  return (
    <section className="mt-6" data-testid="held">
      <h3 className="font-semibold">{w.held(h.name)}</h3>
      {h.sentence !== said && <p className="mt-1">{h.sentence}</p>}
      {h.refuses.length > 0 && (
        <ul className="mt-2" data-testid="refuses">
          {h.refuses.map((r) => (
            <li key={r.line + r.says} className="border-l-4 border-snapped pl-3">
              {r.says}
            </li>
          ))}
        </ul>
      )}
      {h.unknown.length > 0 && <p className="mt-2 text-sm text-muted">{words.rehearse.unknown(h.unknown)}</p>}
      {off.length > 0 && <Lines of={off} />}
      <details className="mt-2 text-sm">
        <summary className="cursor-pointer">{w.right(right.length)}</summary>
        <Lines of={right} />
      </details>
      {hidden.length > 0 && (
        <details className="text-sm">
          <summary className="cursor-pointer">{w.hidden(hidden.length)}</summary>
          <p className="text-muted">{w.hiddenWhy}</p>
          <Lines of={hidden} />
        </details>
      )}
    </section>
  )
}

function Lines({ of }: { of: Held['lines'] }) {
  return (
    <table className="mt-2 w-full max-w-4xl text-left text-sm">
      <thead>
        <tr className="border-b border-hair text-muted">
          <th className="py-1 pr-3 font-normal">{w.field}</th>
          <th className="py-1 pr-3 font-normal">{w.set}</th>
          <th className="py-1 pr-3 font-normal">{w.came}</th>
          <th className="py-1 font-normal" />
        </tr>
      </thead>
      <tbody>
        {of.map((l) => (
          <tr key={l.id} className="border-b border-hair align-top">
            <th scope="row" className="py-1 pr-3 font-normal">
              {l.name}
            </th>
            <td className="py-1 pr-3 tabular-nums">{l.planned}</td>
            <td className="py-1 pr-3 tabular-nums">{l.measured || '–'}</td>
            <td className="py-1">
              {!l.hidden && (
                <span className="flex items-start gap-2">
                  <Glyph state={l.state} />
                  <span>
                    <StateWord state={l.state} /> {l.says}
                  </span>
                </span>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

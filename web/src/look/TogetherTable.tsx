import type { components } from '../api/schema'
import { Glyph } from '../parts/Rope'
import { StateWord } from '../parts/StateWord'
import { words } from '../words'

const w = words.look.devices

/** What each device gave alone, and beside the others. */
export function TogetherTable({ together: t }: { together: components['schemas']['Together'] }) {
  return (
    <section className="mt-6" data-testid="together" aria-live="polite">
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.together}</h2>
      <p className="mt-2 font-semibold">{t.sentence}</p>
      <table className="mt-3 w-full max-w-2xl text-left text-sm">
        <thead>
          <tr className="border-b border-hair text-muted">
            <th className="py-1 pr-3 font-normal" />
            <th className="py-1 pr-3 font-normal">{w.alonePart}</th>
            <th className="py-1 pr-3 font-normal">{w.beside}</th>
            <th className="py-1 font-normal" />
          </tr>
        </thead>
        <tbody>
          {t.rows.map((r, i) => (
            <tr key={i} className="border-b border-hair">
              <th scope="row" className="max-w-48 truncate py-1 pr-3 font-normal">
                {r.label}
              </th>
              <td className="py-1 pr-3 tabular-nums">{r.alone}</td>
              <td className="py-1 pr-3 tabular-nums">{r.beside}</td>
              <td className={`py-1 ${r.stumbles === 'found' ? 'font-semibold text-snapped' : ''}`}>
                {w.stumbles[r.stumbles]}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {t.shares.length > 0 && (
        <table className="mt-4 w-full max-w-2xl text-left text-sm" data-testid="shares">
          <caption className="pb-1 text-left font-semibold">{w.byPlan}</caption>
          <tbody>
            {t.shares.map((s, i) => (
              <tr key={i} className="border-b border-hair align-baseline">
                <th scope="row" className="py-1 pr-3 font-normal">
                  {s.what}
                  <span className="block text-muted">{s.of.join(', ')}</span>
                </th>
                <td className="py-1 pr-3 text-right whitespace-nowrap tabular-nums">{s.figure}</td>
                <td className="py-1">
                  <Glyph state={s.state} /> <StateWord state={s.state} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {t.agrees && <p className="mt-2">{t.agrees}</p>}
    </section>
  )
}

import { Mark } from './Mark'
import type { Change } from '../parts/change'
import { words } from '../words'
import { PictureFrame } from './PictureFrame'
import { Takes } from './Takes'
import type { Looked } from './clip'

const w = words.look

/** What a clip came to: planned beside measured, what nobody wants and what to do, what could not be told. */
export function Report({
  of,
  looked: l,
  cut,
  keep,
}: {
  of: string
  looked: Looked
  cut?: string
  keep?: (c: Change) => Promise<boolean>
}) {
  return (
    <section className="mt-6" data-testid="looked" aria-live="polite">
      <h2 className="truncate border-b border-ink pb-1 text-lg font-semibold">{of}</h2>
      <p className="mt-2 font-semibold">{l.sentence}</p>
      {l.notes.map((n) => (
        <p key={n} className="text-sm text-muted">
          {n}
        </p>
      ))}
      {cut && <p className="text-sm text-muted">{w.cut(cut)}</p>}
      {l.rows.length > 0 && (
        <table className="mt-3 w-full max-w-2xl text-left text-sm">
          <thead>
            <tr className="border-b border-hair text-muted">
              <th className="py-1 pr-3 font-normal">{l.label}</th>
              <th className="py-1 pr-3 font-normal">{w.planned}</th>
              <th className="py-1 pr-3 font-normal">{w.measured}</th>
              <th className="py-1 pr-3 font-normal">{w.agrees}</th>
            </tr>
          </thead>
          <tbody>
            {l.rows.map((r) => (
              <tr key={r.what} className="border-b border-hair">
                <th scope="row" className="py-1 pr-3 font-normal">
                  {r.what}
                </th>
                <td className="py-1 pr-3 tabular-nums">{r.planned}</td>
                <td className="py-1 pr-3 tabular-nums">{r.measured}</td>
                <td className="py-1">
                  <Mark answer={r.agrees} words={w.as} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {l.wrong.length > 0 && (
        <>
          <h3 className="mt-5 font-semibold">{w.wrong}</h3>
          <ul>
            {l.wrong.map((s) => (
              <li key={s.what} className="border-b border-hair py-2">
                <p>
                  <b className="text-kinked">{w.names[s.what]}</b> {s.says}
                </p>
                <p className="text-sm">{s.do}</p>
                {s.spans.length > 0 && (
                  <p className="text-xs text-muted tabular-nums">
                    {s.spans
                      .slice(0, 8)
                      .map((x) => w.span(x.from, x.to))
                      .join(', ')}
                    {s.spans.length > 8 && w.more(s.spans.length - 8)}
                  </p>
                )}
              </li>
            ))}
          </ul>
        </>
      )}
      {l.frame && <PictureFrame frame={l.frame} />}
      {l.figures.length > 0 && (
        <dl className="mt-5 flex flex-wrap gap-x-8 gap-y-2 text-sm">
          {l.figures.map((f) => (
            <div key={f.what}>
              <dt className="text-muted">{f.what}</dt>
              <dd className="tabular-nums">{f.says}</dd>
            </div>
          ))}
        </dl>
      )}
      {keep && l.takes.length > 0 && <Takes takes={l.takes} of={of} keep={keep} />}
      {l.open.length > 0 && (
        <>
          <h3 className="mt-5 font-semibold">{w.open}</h3>
          <ul className="text-sm text-muted">
            {l.open.map((s) => (
              <li key={s.what}>
                {w.names[s.what]}: {s.says}
              </li>
            ))}
          </ul>
        </>
      )}
      <details className="mt-5 text-sm">
        <summary className="cursor-pointer">{w.clear(l.clear.length)}</summary>
        <ul className="text-muted">
          {l.clear.map((s) => (
            <li key={s.what}>
              {w.names[s.what]}: {s.says}
            </li>
          ))}
        </ul>
      </details>
    </section>
  )
}

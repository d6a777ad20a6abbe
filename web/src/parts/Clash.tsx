import { words } from '../words'
import { said } from './conflicts'
import type { Clashing } from './useRig'

const w = words.clash

/** Two changes of the same thing: both values, and one is chosen. */
export function Clash({ clash }: { clash: Clashing }) {
  return (
    <section
      role="alertdialog"
      aria-label={w.title}
      data-testid="clash"
      className="mb-4 border-l-4 border-taut bg-sheet p-4"
    >
      <p className="font-semibold">{w.title}</p>
      <p className="text-sm text-muted">{w.help(clash.what)}</p>
      <table className="mt-2 text-sm">
        <thead className="text-left text-muted">
          <tr>
            <th />
            <th className="pr-6 font-normal">{w.mine}</th>
            <th className="font-normal">{w.theirs}</th>
          </tr>
        </thead>
        <tbody>
          {clash.of.map((c) => (
            <tr key={c.at} className="border-t border-hair align-top">
              <th className="py-1 pr-6 text-left font-normal">{w.where(c.at)}</th>
              <td className="py-1 pr-6 font-semibold">{said(c.mine, w.nothing)}</td>
              <td className="py-1 font-semibold">{said(c.theirs, w.nothing)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2 flex gap-3">
        <button className="act act-main" onClick={clash.mine}>
          {w.keepMine}
        </button>
        <button className="act" onClick={clash.theirs}>
          {w.keepTheirs}
        </button>
      </p>
    </section>
  )
}

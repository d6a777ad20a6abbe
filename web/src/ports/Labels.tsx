import type { TreeRow } from '../api/client'
import { words } from '../words'

const w = words.ports

/** A sheet of labels, one for every plug, to print, cut and tape on. */
export function Labels({ rows, name }: { rows: TreeRow[]; name: string }) {
  const plugs = rows.filter((r) => r.lead)
  if (!plugs.length) return null
  return (
    <section data-testid="labels" className="print:block">
      <div className="flex items-baseline justify-between gap-4 border-b border-ink pb-1 print:border-0">
        <h2 className="text-lg font-semibold">
          {w.labels}
          <span className="hidden print:inline">: {name}</span>
        </h2>
        <button className="act text-sm print:hidden" onClick={() => window.print()}>
          {w.print}
        </button>
      </div>
      <p className="mt-1 text-sm text-muted print:hidden">{w.labelsHelp}</p>
      <ul className="mt-3 grid grid-cols-2 gap-0 sm:grid-cols-3">
        {plugs.map((r) => (
          <li
            key={r.ref}
            className="-mt-px -ml-px break-inside-avoid border border-dashed border-muted p-2 text-[13px] leading-4"
          >
            <b className="block break-words">{r.plugged}</b>
            {w.into} <b>{r.label}</b>
            <span className="block text-muted">{r.speed}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}

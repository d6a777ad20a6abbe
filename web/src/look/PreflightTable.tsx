import { Fragment, type ReactNode } from 'react'
import { words } from '../words'
import { Mark } from './Mark'
import type { Preflight } from './useDevices'

const w = words.look.devices

/** All that was looked at in one line each: planned, measured, what follows; and what can be done with it. */
export function PreflightTable({ preflight: p, children }: { preflight: Preflight; children?: ReactNode }) {
  return (
    <section className="mt-6" data-testid="preflight" aria-live="polite">
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.preflight}</h2>
      <p className="mt-2 font-semibold">{p.sentence}</p>
      {p.rows.length > 0 && (
        <div className="mt-3">
          <table className="w-full text-left text-sm">
            <thead>
              <tr className="border-b border-hair text-muted">
                <th className="py-1 pr-3 font-normal" />
                <th className="py-1 pr-3 font-normal">{words.look.planned}</th>
                <th className="py-1 pr-3 font-normal">{words.look.measured}</th>
                <th className="py-1 pr-3 font-normal">{w.asItHasToBe}</th>
                <th className="py-1 font-normal max-sm:hidden">{w.follows}</th>
              </tr>
            </thead>
            <tbody>
              {p.rows.map((r) => (
                <Fragment key={r.of}>
                  <tr className="align-top sm:border-b sm:border-hair">
                    <th scope="row" className="max-w-48 py-1 pr-3 font-semibold">
                      {r.label}
                    </th>
                    <td className="py-1 pr-3 tabular-nums">{r.planned}</td>
                    <td className="py-1 pr-3 tabular-nums">{r.measured}</td>
                    <td className="py-1 pr-3 whitespace-nowrap">
                      <Mark answer={r.passes.answer} words={w.passes} />
                    </td>
                    <td className="py-1 max-sm:hidden">{r.follows}</td>
                  </tr>
                  <tr className="border-b border-hair sm:hidden">
                    <td colSpan={4} className="pb-2">
                      {r.follows}
                    </td>
                  </tr>
                </Fragment>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {children}
    </section>
  )
}

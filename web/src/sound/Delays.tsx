import type { Board, Sounding } from '../api/client'
import { Keep, figure } from './heard'
import { Late } from './Late'
import { words } from '../words'

const w = words.sound

export function Delays({ now, sound, keep }: { now: Board; sound: Sounding; keep?: Keep }) {
  const plan = sound.plan!
  const rows = [
    ...plan.paths
      .filter((p) => p.on === 'air')
      .map((p) => ({
        name: p.name,
        delay: p.delay,
        set: p.set,
        parts: p.parts,
        said: p.setSaid,
        next: sound.corrections.find((c) => c.index === p.index),
        shared: p.sharedWith,
      })),
    ...plan.pictures.map((p) => ({
      name: p.label,
      delay: p.delay,
      set: p.set,
      parts: p.parts,
      said: false,
      next: undefined,
      shared: undefined,
    })),
  ]
  return (
    <section data-testid="delays">
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.delays}</h2>
      <p className="text-sm text-muted">{w.delaysHelp}</p>
      <table className="mt-1 w-full text-sm">
        <thead className="text-left text-muted">
          <tr>
            <th className="font-normal">{w.of}</th>
            <th className="text-right font-normal">
              {w.takes}, {w.ms}
            </th>
            <th className="text-right font-normal">
              {w.set}, {w.ms}
            </th>
            <th className="text-right font-normal">{w.frames}</th>
            <th className="text-right font-normal">{w.samples}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.name} className="border-b border-hair align-top">
              <td className="py-1 pr-2">
                <details>
                  <summary className="cursor-pointer">{r.name}</summary>
                  <ul className="text-muted">
                    {r.parts.map((x, i) => (
                      <li key={i}>
                        {x.of}: {figure(x.ms)} ms, {x.why}
                        {keep && x.item && <Late now={now} item={x.item} keep={keep} />}
                      </li>
                    ))}
                  </ul>
                </details>
                {r.shared && r.shared.length > 0 && (
                  <p className="text-muted">{w.shared(r.shared.join(', '), r.set.ms)}</p>
                )}
              </td>
              <td className="py-1 text-right whitespace-nowrap tabular-nums">{figure(r.delay)}</td>
              <td className="py-1 text-right font-semibold tabular-nums">
                {r.set.ms}
                {r.said && <span className="font-normal text-muted"> {w.asSet}</span>}
                {r.next && keep && (
                  <button
                    className="quiet block w-full text-right font-normal"
                    onClick={() => keep({ edits: r.next!.edits, what: w.setTo(r.name, r.next!.ms) })}
                  >
                    {w.byClaps(r.next.ms)}
                  </button>
                )}
                {r.next && !keep && <span className="block font-normal">{w.byClaps(r.next.ms)}</span>}
              </td>
              <td className="py-1 text-right tabular-nums">{r.set.frames}</td>
              <td className="py-1 text-right tabular-nums">{r.set.samples}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

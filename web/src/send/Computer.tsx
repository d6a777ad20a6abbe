import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Board, type Edit, type Failure, type Sending } from '../api/client'
import { keys } from '../api/keys'
import { Problems } from '../parts/Frame'
import { ImportButton } from '../parts/ImportButton'
import { type Measured, useMeasuring } from '../parts/measuring'
import { StateWord } from '../parts/StateWord'
import type { Change } from '../parts/change'
import { BeadLine } from '../tether/SharedLimits'
import { LimitCard } from '../tether/LimitCard'
import { words } from '../words'
import type { Hold } from './hold'

const w = words.send

const rules = ['processor', 'hardware-encoder', 'hardware-sessions', 'graphics', 'memory-traffic']

/** A limit as a line with its loads as beads; its whole sum folds out. */
export function LimitLine({ limit: l }: { limit: Sending['limits'][number] }) {
  return (
    <details className="border-b border-hair py-1.5" data-limit={l.id} data-state={l.state}>
      <summary className="grid cursor-pointer grid-cols-[minmax(0,1fr)_176px] items-center gap-3 max-sm:grid-cols-1">
        <span className="min-w-0">
          <b>{l.what}</b>
          <span className="block text-[13px] leading-4 text-muted">
            <StateWord state={l.state} /> {l.says}
          </span>
        </span>
        <BeadLine limit={l} />
      </summary>
      <LimitCard limit={l} />
    </details>
  )
}

/** The second thing: what the computer does, and how much of it there is. */
export function Computer({
  now,
  send,
  keep,
  free,
}: {
  now: Board
  send: Sending
  hold: Hold
  keep: (c: Change) => void
  free: boolean
}) {
  const limits = rules.flatMap((r) => send.limits.filter((l) => l.rule === r))
  const item = now.rig.items.find((i) => i.id === send.computer)
  const m = send.can?.measured
  return (
    <section aria-labelledby="computer">
      <h2 id="computer" className="border-b border-ink pb-1 font-semibold">
        {w.computer}
      </h2>
      {!item && <p className="py-2 text-muted">{w.noComputer}</p>}
      {limits.map((l) => (
        <LimitLine key={l.id} limit={l} />
      ))}
      {item && (
        <>
          <p className="mt-2 text-sm">
            {m ? w.measuredOn(m.at, m.host ?? '', m.on ?? '', m.slowdown ?? '') : w.notMeasured(item.label)}
          </p>
          {free && <Measure now={now} item={item} keep={keep} />}
        </>
      )}
    </section>
  )
}

/** Measuring this computer, with how far it has come; a result is taken into the rig and onto the shelf. */
function Measure({
  now,
  item,
  keep,
}: {
  now: Board
  item: Board['rig']['items'][number]
  keep: (c: Change) => void
}) {
  const queries = useQueryClient()
  const [wrong, setWrong] = useState<Failure>()
  const [brought, setBrought] = useState<Measured>()
  const [folder, setFolder] = useState('')
  const state = useMeasuring()
  const at = state.data
  const result = brought ?? at?.result
  const pr = now.rig.show.programme
  const run = (what: Promise<unknown>) => {
    setWrong(undefined)
    setBrought(undefined)
    what
      .then(() => queries.invalidateQueries({ queryKey: keys.measuring }))
      .catch((e: Failure) => setWrong(e))
  }
  const take = async (r: Measured) => {
    const edits: Edit[] = [{ do: 'computes', item: item.id, computes: r.computes }]
    keep({ edits, what: w.tookMeasurement(item.label, r.host) })
    if (!item.shelf) return
    try {
      const shelf = await api.shelf()
      const entry = shelf.find((s) => s.entry.id === item.shelf!.id)
      if (entry)
        await api.saveOnShelf(
          { ...entry.entry, gear: { ...entry.entry.gear, computes: r.computes } },
          entry.revision,
          w.tookMeasurement(item.label, r.host),
        )
      await queries.invalidateQueries({ queryKey: keys.shelf })
    } catch (e) {
      setWrong(e as Failure)
    }
  }
  return (
    <div className="mt-2 text-sm" data-testid="measure">
      {wrong && <Problems error={wrong} />}
      {!at?.running && (
        <div className="flex flex-wrap items-center gap-3">
          <button
            className="act"
            onClick={() =>
              run(
                api.measure({
                  width: pr.width,
                  height: pr.height,
                  rate: pr.rate,
                  folder: folder || undefined,
                }),
              )
            }
          >
            {w.measure}
          </button>
          <input
            className="field w-52"
            aria-label={w.folder}
            placeholder={w.folder}
            value={folder}
            onChange={(e) => setFolder(e.target.value)}
          />
          <ImportButton
            label={w.bring}
            accept=".json"
            bring={(f) =>
              void f
                .text()
                .then((t) => api.readMeasurement(t))
                .then((r) => {
                  setWrong(undefined)
                  setBrought(r)
                })
                .catch((e: Failure) => setWrong(e))
            }
          />
        </div>
      )}
      {at?.running && (
        <div className="flex items-center gap-3" role="status">
          <progress className="w-40" value={at.progress.done} max={at.progress.of || 1} />
          <span className="flex-1">{at.progress.step}</span>
          <button className="act" onClick={() => run(api.stopMeasuring())}>
            {w.breakOff}
          </button>
        </div>
      )}
      {at?.failed && !at.running && <p className="mt-1 text-snapped">{at.failed}</p>}
      {result && !at?.running && (
        <div className="mt-2">
          <table className="w-full">
            <caption className="text-left text-xs text-muted">
              {w.found(result.host, result.at.slice(0, 10))}
            </caption>
            <tbody>
              {result.steps.map((s) => (
                <tr key={s.name} className="border-t border-hair align-top">
                  <th scope="row" className="py-0.5 pr-3 text-left font-normal">
                    {s.name}
                  </th>
                  <td className="text-right tabular-nums">
                    {s.failed ? (
                      <span className="text-muted">{s.failed}</span>
                    ) : (
                      `${s.low} ${w.to} ${s.high} ${s.unit}`
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="mt-2 flex flex-wrap gap-3">
            <button className="act act-main" onClick={() => void take(result)}>
              {w.take(item.label)}
            </button>
            {result.writeMBps &&
              now.rig.items
                .filter((it) => it.gear.kind === 'drive' || it.id === item.id)
                .map((it) => (
                  <button
                    key={it.id}
                    className="act"
                    onClick={() =>
                      keep({
                        edits: (['writeMBps', 'freeGB'] as const)
                          .filter((f) => result[f] !== undefined)
                          .map((f) => ({ do: 'fact', path: `items/${it.id}/${f}`, fact: result[f] }) as Edit),
                        what: w.tookDrive(it.label),
                      })
                    }
                  >
                    {w.takeDrive(it.label)}
                  </button>
                ))}
          </p>
        </div>
      )}
    </div>
  )
}

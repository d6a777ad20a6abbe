import { useState } from 'react'
import { api, type Board, type Edit, type Failure, type Sending, zoned } from '../api/client'
import { Num, Tick } from '../parts/Field'
import { Problems } from '../parts/Frame'
import { ImportButton } from '../parts/ImportButton'
import type { Change } from '../parts/change'
import { Glyph } from '../parts/Rope'
import { StateWord } from '../parts/StateWord'
import { bounds } from '../tether/figures'
import { useNumber } from '../parts/useTyped'
import { words } from '../words'
import { TryLine } from './TryLine'
import type { Hold } from './hold'

const w = words.send

const mbps = (kbps: number) => bounds(kbps / 1000, kbps / 1000, 'Mb/s')

/** The ladder of sizes and rates: what each rung takes of the line and gives up, and the best the line carries. */
export function Ladder({
  now,
  send,
  hold,
  keep,
  settled,
  free,
}: {
  now: Board
  send: Sending
  hold: Hold
  keep: (c: Change) => void
  settled: (c: Change) => Promise<boolean>
  free: boolean
}) {
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
          <span className="text-muted" data-testid="line">
            {w.line(mbps(p.sureKbps), p.lineIs, mbps(p.slackKbps), mbps(p.nowKbps))}
          </span>
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
      {free && <Readings now={now} odd={p.odd} keep={keep} />}
      <TryLine rig={now.id} revision={now.revision} keep={settled} />
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

/** Measurements of the line: one typed, or a table of them. */
function Readings({
  now,
  odd,
  keep,
}: {
  now: Board
  odd: Sending['plan']['odd']
  keep: (c: Change) => void
}) {
  const typed = useNumber({ unit: 'Mb/s', units: words.send.mbps, low: 0, high: 100000 })
  const [wrong, setWrong] = useState<Failure>()
  const [left, setLeft] = useState('')
  const [listed, setListed] = useState(false)
  const all = now.rig.uplink?.measuredMbps ?? []
  const [air, setAir] = useState(false)
  const set = (next: typeof all, what: string) =>
    keep({ edits: [{ do: 'readings', readings: next } as Edit], what })
  const reading = (mbps: number, at?: string, by?: string): Edit => ({
    do: 'fact',
    path: 'uplink/reading',
    fact: { value: mbps, from: 'measured' } as Edit['fact'],
    at,
    word: by,
  })
  return (
    <div className="mt-1 text-sm" data-testid="readings">
      <form
        className="flex flex-wrap items-center gap-3"
        onSubmit={(e) => {
          e.preventDefault()
          void typed.read().then((v) => {
            if (v === undefined) return // what was typed stays, with what is wrong with it
            keep({
              edits: [reading(v, zoned(new Date()), air ? 'air' : undefined)],
              what: w.read(String(v)),
            })
            typed.set(undefined)
          })
        }}
      >
        {all.length > 0 ? (
          <button type="button" className="quiet" aria-expanded={listed} onClick={() => setListed(!listed)}>
            {w.readings(all.length)}
          </button>
        ) : (
          <span className="text-muted">{w.readings(0)}</span>
        )}
        <input
          className="field w-20 text-right"
          aria-label={w.readNow}
          aria-invalid={!!typed.wrong}
          value={typed.text ?? ''}
          onChange={(e) => typed.set(e.target.value)}
        />
        Mb/s
        <Tick label={w.byAir} value={air} keep={setAir} />
        <button className="act" disabled={!typed.text?.trim()}>
          {w.addReading}
        </button>
        <ImportButton
          label={w.bringReadings}
          accept=".csv,.txt"
          bring={(f) =>
            void f
              .text()
              .then((t) => api.readUplink(t))
              .then((r) => {
                setWrong(undefined)
                setLeft(r.problems.map((p) => w.leftLine(p.line, p.text)).join(' '))
                keep({
                  edits: r.readings.map((x) => reading(x.value, x.at)),
                  what: w.broughtReadings(r.readings.length),
                })
              })
              .catch((e: Failure) => setWrong(e))
          }
        />
      </form>
      {typed.wrong && (
        <p role="alert" className="mt-1 text-snapped">
          {w.readNow}: {typed.wrong}
        </p>
      )}
      {listed && (
        <ol className="mt-1 max-h-72 overflow-y-auto border-t border-hair" data-testid="reading-list">
          {all.map((r, i) => (
            <li key={`${i}/${r.at}`} className="flex flex-wrap items-center gap-3 border-b border-hair py-1">
              <span className="w-44 tabular-nums">{r.at?.slice(0, 16).replace('T', ' ') ?? w.noTime}</span>
              <Num
                name={w.readingOf(i + 1)}
                unit="Mb/s"
                low={0}
                high={100000}
                width="w-20"
                value={r.value}
                keep={(v) =>
                  v !== undefined &&
                  set(
                    all.map((x, k) => (k === i ? { ...x, value: v } : x)),
                    w.readingIs(i + 1, v),
                  )
                }
              />
              <Tick
                label={w.byAir}
                value={r.by === 'air'}
                keep={(v) =>
                  set(
                    all.map((x, k) => (k === i ? { ...x, by: v ? 'air' : 'wired' } : x)),
                    w.readingIs(i + 1, r.value),
                  )
                }
              />
              <button
                className="quiet"
                aria-label={w.withoutReading(i + 1)}
                onClick={() =>
                  set(
                    all.filter((_, k) => k !== i),
                    w.withoutReading(i + 1),
                  )
                }
              >
                {words.show.remove}
              </button>
            </li>
          ))}
        </ol>
      )}
      {odd.length > 0 && (
        <ul role="status" className="mt-1 text-taut" data-testid="odd">
          {odd.map((o) => (
            <li key={o.place}>
              {bounds(all[o.place]?.value ?? 0, all[o.place]?.value ?? 0, 'Mb/s')}
              {all[o.place]?.at ? `, ${all[o.place]!.at!.slice(0, 16).replace('T', ' ')}` : ''}: {o.why}
            </li>
          ))}
        </ul>
      )}
      {wrong && <Problems error={wrong} />}
      {left && (
        <p role="status" className="text-taut">
          {w.leftOutLines} {left}
        </p>
      )}
    </div>
  )
}

import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { scaleLinear } from 'd3-scale'
import { Link, useSearchParams } from 'react-router'
import { api, type Failure, type Log } from '../api/client'
import { keys } from '../api/keys'
import { Frame, Problems } from '../parts/Frame'
import { ImportButton } from '../parts/ImportButton'
import { figure } from '../run/clock'
import { useTitle } from '../parts/useTitle'
import { words } from '../words'
import { day, hours, Season } from './season'
import { Archive } from './Archive'
import { Drifts } from './Drifts'

const w = words.log
/** Every night, and what all of them tell together. */
export function LogPage() {
  useTitle(w.title)
  const queries = useQueryClient()
  const [search, setSearch] = useSearchParams()
  const rig = search.get('rig') ?? ''
  const setRig = (id: string) => setSearch(id ? { rig: id } : {})
  const rigs = useQuery({ queryKey: keys.rigs, queryFn: () => api.rigs() })
  const { data, error } = useQuery({ queryKey: keys.log(rig), queryFn: () => api.log(rig || undefined) })
  const load = useMutation({
    mutationFn: api.importNight,
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.log() }),
  })
  return (
    <Frame
      actions={
        <ImportButton
          label={w.import}
          accept=".json,application/json"
          bring={(f) => void f.text().then(load.mutate)}
        />
      }
    >
      <main className="px-6 pb-24 max-sm:px-4">
        <div className="flex flex-wrap items-end gap-x-8 gap-y-2 py-5">
          <div className="min-w-0 flex-1">
            <h1 className="text-2xl font-semibold tracking-tight">{w.title}</h1>
            <p className="mt-1">{w.lead}</p>
          </div>
          <label className="text-sm">
            <span className="block text-muted">{w.rig}</span>
            <select className="field w-full max-w-80" value={rig} onChange={(e) => setRig(e.target.value)}>
              <option value="">{w.all}</option>
              {rigs.data?.map((r) => (
                <option key={r.id} value={r.id}>
                  {r.name}
                </option>
              ))}
            </select>
          </label>
        </div>
        {load.error && <Problems error={load.error as Failure} />}
        {load.data && <p role="status">{w.imported(load.data.added)}</p>}
        {error && <Problems error={error as Failure} />}
        {!data && !error && <p role="status">{words.board.loading}</p>}
        {data &&
          (data.nights.length === 0 ? (
            <p>
              <b>{w.empty}</b> {w.emptyHelp}
            </p>
          ) : (
            <div className="grid gap-x-10 gap-y-8 lg:grid-cols-[3fr_2fr]">
              <div className="min-w-0 space-y-8">
                <Between season={data.season} />
                <Drifts season={data.season} />
                <Nights log={data} />
              </div>
              <div className="min-w-0 space-y-8">
                <Shares title={w.byPart} of={data.season.byPart} />
                <Shares
                  title={w.byHop}
                  of={data.season.byHop}
                  say={(of) => words.stages[of as keyof typeof words.stages] ?? of}
                />
                <Shares title={w.byLoss} of={data.season.byLoss} say={(of) => words.night.loss[of] ?? of} />
                <Work season={data.season} rig={rig} />
              </div>
            </div>
          ))}
        <Archive />
      </main>
    </Frame>
  )
}

function Between({ season: s }: { season: Season }) {
  const b = s.between
  return (
    <section>
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.between}</h2>
      {b.hours > 0 ? (
        <>
          <p className="mt-2 text-3xl font-semibold tabular-nums">{w.hours(hours(b.hours))}</p>
          <Bounds low={b.low} value={b.hours} high={b.high} />
          <p>{w.bounds(hours(b.low), hours(b.high))}.</p>
        </>
      ) : (
        <p className="mt-2">{w.noFaults(hours(b.low))}</p>
      )}
      <p className="text-sm text-muted">{w.rests(b.rests, s.faults)}</p>
    </section>
  )
}

/** A value between its bounds, as everywhere: a thin line, and a mark. */
function Bounds({ low, value, high }: { low: number; value: number; high: number }) {
  const x = scaleLinear()
    .domain([0, high * 1.05])
    .range([0, 400])
  return (
    <svg viewBox="0 0 400 14" className="w-full max-w-md" aria-hidden="true">
      <line x1={0} x2={400} y1={7} y2={7} stroke="var(--hair)" />
      <line x1={x(low)} x2={x(high)} y1={7} y2={7} stroke="var(--ink)" strokeWidth={2} />
      <circle cx={x(value)} cy={7} r={5} fill="var(--ink)" />
    </svg>
  )
}

function Shares({
  title,
  of,
  say = (x) => x,
}: {
  title: string
  of: Season['byPart']
  say?: (of: string) => string
}) {
  if (of.length === 0) return null
  const most = Math.max(...of.map((s) => s.faults))
  return (
    <section>
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{title}</h2>
      <table className="w-full text-sm">
        <thead className="text-left text-muted">
          <tr>
            <th className="font-normal" />
            <th className="w-1/3 font-normal">
              <span className="sr-only">{w.faults}</span>
            </th>
            <th className="text-right font-normal">{w.faults}</th>
            <th className="text-right font-normal">
              {w.lost}, {w.minutes}
            </th>
          </tr>
        </thead>
        <tbody>
          {of.slice(0, 8).map((s) => (
            <tr key={s.of} className="border-b border-hair">
              <td className="max-w-40 truncate py-1 pr-2" title={say(s.of)}>
                {say(s.of)}
              </td>
              <td>
                <span
                  className="block h-2 bg-thread"
                  style={{ width: `${(100 * s.faults) / most}%`, background: 'var(--thread)' }}
                />
              </td>
              <td className="text-right tabular-nums">{s.faults}</td>
              <td className="text-right tabular-nums">{figure(s.lost)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

function Nights({ log }: { log: Log }) {
  return (
    <section>
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.nights}</h2>
      <table className="w-full text-sm">
        <thead className="text-left text-muted">
          <tr>
            <th className="font-normal">{w.when}</th>
            <th className="font-normal">{w.name}</th>
            <th className="text-right font-normal max-sm:hidden">{w.onAir}</th>
            <th className="text-right font-normal">{w.setUp}</th>
            <th className="text-right font-normal">{w.faults}</th>
            <th className="text-right font-normal">{w.lost}</th>
          </tr>
        </thead>
        <tbody>
          {log.nights.map((n) => (
            <tr key={n.id} className="border-b border-hair">
              <td className="py-1 pr-3 whitespace-nowrap tabular-nums">
                <Link className="quiet" to={`/nights/${n.id}`}>
                  {day(new Date(n.airAt).getTime())}
                </Link>
              </td>
              <td className="max-w-52 truncate pr-3 max-sm:max-w-28" title={n.name}>
                {n.name}
              </td>
              <td className="text-right tabular-nums max-sm:hidden">{figure(n.minutes)}</td>
              <td className="text-right whitespace-nowrap tabular-nums" title={w.of(figure(n.planned))}>
                {n.setUp ? `${Math.round(n.setUp)} / ${Math.round(n.planned)}` : '–'}
              </td>
              <td className="text-right tabular-nums">{n.faults || ''}</td>
              <td className="text-right tabular-nums">{n.lost ? figure(n.lost) : ''}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

function Work({ season: s, rig }: { season: Season; rig: string }) {
  const queries = useQueryClient()
  const take = useMutation({
    mutationFn: async () => {
      const board = await api.board(rig)
      const times = Object.fromEntries(s.work.map((k) => [k.kind, Math.round(k.minutes * 10) / 10]))
      return api.edit(rig, board.revision, [{ do: 'times', times }], w.takeTimes)
    },
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: keys.board(rig) })
      void queries.invalidateQueries({ queryKey: keys.runSheet(rig) })
    },
  })
  if (s.work.length === 0) return null
  const most = Math.max(...s.work.map((k) => k.high))
  return (
    <section>
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.work}</h2>
      <p className="text-sm text-muted">{w.workHelp}</p>
      <table className="w-full text-sm">
        <tbody>
          {s.work.map((k) => (
            <tr key={k.kind} className="border-b border-hair">
              <td className="py-1 pr-2">{k.name}</td>
              <td className="w-2/5">
                <svg
                  viewBox="0 0 100 10"
                  preserveAspectRatio="none"
                  className="h-2.5 w-full"
                  aria-hidden="true"
                >
                  <rect
                    x={(100 * k.low) / most}
                    width={Math.max(1, (100 * (k.high - k.low)) / most)}
                    y={3}
                    height={4}
                    fill="var(--twist)"
                  />
                  <rect x={(100 * k.minutes) / most - 0.7} width={1.4} y={0} height={10} fill="var(--ink)" />
                </svg>
              </td>
              <td className="pl-2 text-right whitespace-nowrap tabular-nums">
                {figure(k.minutes)} {w.minutes}
              </td>
              <td className="pl-2 text-right whitespace-nowrap text-muted">{w.times(k.times)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {rig && (
        <p className="mt-2">
          <button className="act text-sm" disabled={take.isPending} onClick={() => take.mutate()}>
            {w.takeTimes}
          </button>
        </p>
      )}
      {take.error && <Problems error={take.error as Failure} />}
      {take.isSuccess && <p role="status">{w.took}</p>}
    </section>
  )
}

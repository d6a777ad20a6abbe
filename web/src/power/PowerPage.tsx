import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, type Battery, type Board, type Edit, type Failure, type PowerPlan } from '../api/client'
import { keys } from '../api/keys'
import { Problems } from '../parts/Frame'
import { Glyph } from '../parts/Rope'
import { RigPage } from '../parts/RigPage'
import { StateWord } from '../parts/StateWord'
import { FactField } from '../shelf/FactField'
import { LimitCard } from '../tether/LimitCard'
import { words } from '../words'
import { Clock } from './Clock'

const w = words.power

type Keep = (e: { edits: Edit[]; what: string }) => void

/** Supplies with what hangs on them, and every battery against the clock of the show. */
export function PowerPage() {
  return (
    <RigPage title={w.title} line={(now) => <Line now={now} />}>
      {(now, save) => <Power now={now} keep={save.mutate} />}
    </RigPage>
  )
}

function usePower(now: Board) {
  return useQuery({
    queryKey: keys.power(now.rig),
    queryFn: () => api.power(now.rig),
    placeholderData: (was) => was,
    staleTime: Infinity,
  })
}

function Line({ now }: { now: Board }) {
  const { data } = usePower(now)
  if (!data) return words.board.loading
  const states = [
    ...data.batteries.map((b) => ({ label: b.label, state: b.state })),
    ...data.supplies.flatMap((s) =>
      now.verdict.limits
        .filter((l) => s.limits.includes(l.id))
        .map((l) => ({ label: s.label, state: l.state })),
    ),
  ]
  const bad = states.filter((s) => s.state !== 'slack')
  const worst = bad.find((s) => s.state === 'snapped') ?? bad[0]
  return (
    <>
      <b>{w.settled}</b> {worst ? w.holds(states.length - bad.length, states.length) : w.allHold}.
      {worst && (
        <>
          {' '}
          <b>{w.next}</b> {worst.label}.
        </>
      )}
    </>
  )
}

function Power({ now, keep }: { now: Board; keep: Keep }) {
  const { data, error } = usePower(now)
  if (error) return <Problems error={error as Failure} />
  if (!data) return <p role="status">{words.board.loading}</p>
  return (
    <div className="space-y-10">
      <section>
        <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.batteries}</h2>
        <p className="mt-1 text-sm text-muted">{w.batteriesHelp}</p>
        {data.batteries.length ? <Clock plan={data} /> : <p className="mt-2 text-muted">{w.noBatteries}</p>}
      </section>
      {data.batteries.length > 0 && (
        <WaysTable batteries={worstFirst(data.batteries)} now={now} keep={keep} />
      )}
      <Supplies plan={data} now={now} />
    </div>
  )
}

const order = ['snapped', 'untested', 'kinked', 'taut', 'slack']
const worstFirst = (all: Battery[]) =>
  [...all].sort((a, b) => order.indexOf(a.state) - order.indexOf(b.state))

const columns = ['battery', 'grip', 'mains', 'usb-supply', 'usb-bank'] as const

/** Cameras down, ways across: each cell is judged in this very rig, and chosen by clicking it. */
function WaysTable({ batteries, now, keep }: { batteries: Battery[]; now: Board; keep: Keep }) {
  const cautions = [...new Set(batteries.flatMap((b) => b.ways.map((x) => x.caution)))].filter(Boolean)
  const shown = columns.filter((c) => batteries.some((b) => b.ways.some((x) => x.key === c)))
  return (
    <section aria-labelledby="ways">
      <h2 id="ways" className="border-b border-ink pb-1 text-lg font-semibold">
        {w.waysTitle}
      </h2>
      <p className="mt-1 text-sm text-muted">{w.waysHelp}</p>
      <div className="overflow-x-auto">
        <table className="mt-2 w-full min-w-[52rem] table-fixed text-sm">
          <thead>
            <tr className="text-left text-muted">
              <th className="w-44 py-1 font-normal">{w.camera}</th>
              <th className="w-40 py-1 font-normal">{w.draw}</th>
              {shown.map((c) => (
                <th key={c} className="py-1 pl-2 font-normal">
                  {w.columns[c]}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {batteries.map((b) => (
              <tr key={b.item} className="border-t border-hair align-top" data-battery={b.item}>
                <th scope="row" className="py-2 pr-3 text-left font-semibold break-words">
                  {b.label}
                </th>
                <td className="py-1 pr-3">
                  <Draw battery={b} now={now} keep={keep} />
                </td>
                {shown.map((c) => {
                  const way = b.ways.find((x) => x.key === c)
                  if (!way)
                    return (
                      <td key={c} className="py-2 pl-2 text-muted">
                        –
                      </td>
                    )
                  return (
                    <td key={c} className="py-1 pl-2" data-way={way.name}>
                      <button
                        className={`w-full rounded border px-2 py-1 text-left ${way.now || way.asProposed ? 'border-ink bg-wash' : 'border-transparent hover:border-hair'}`}
                        disabled={now.frozen || way.now}
                        title={way.says}
                        aria-pressed={way.now}
                        aria-label={`${way.now ? w.now : way.asProposed ? `${w.asProposed}, ${w.keep}` : w.keep}: ${way.name}, ${b.label}: ${words.states[way.state]} ${way.figure}`}
                        onClick={() => keep({ edits: way.edits, what: w.kept(b.label, way.name) })}
                      >
                        <Glyph state={way.state} />
                        <span className="block">
                          <StateWord state={way.state} /> {way.figure}
                        </span>
                        {(way.now || way.asProposed) && (
                          <span className="block text-xs text-muted">{way.now ? w.now : w.asProposed}</span>
                        )}
                      </button>
                    </td>
                  )
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {cautions.length > 0 && (
        <ul className="mt-3 border-l-4 border-taut pl-2 text-[13px] leading-4">
          {cautions.map((c) => (
            <li key={c}>{c}</li>
          ))}
        </ul>
      )}
    </section>
  )
}

/** The draw of a camera: measured once, kept in the rig and on its sheet on the shelf. */
function Draw({ battery: b, now, keep }: { battery: Battery; now: Board; keep: Keep }) {
  const queries = useQueryClient()
  const item = now.rig.items.find((i) => i.id === b.item)
  const onShelf = useMutation({
    mutationFn: async (p: {
      fact: NonNullable<NonNullable<Board['rig']['items'][0]['gear']['power']>['drawW']>
      what: string
    }) => {
      const sheet = (await api.shelf()).find((s) => s.entry.id === item?.shelf?.id)
      if (!sheet) return false
      const { entry } = sheet
      const gear = { ...entry.gear, power: { ...entry.gear.power, drawW: p.fact } }
      await api.saveOnShelf({ ...entry, gear }, sheet.revision, p.what)
      await queries.invalidateQueries({ queryKey: keys.shelf })
      return true
    },
  })
  if (!item) return null
  return (
    <fieldset disabled={now.frozen}>
      <FactField
        name=""
        label={`${w.draw} ${b.label}`}
        field="items/ID/power/drawW"
        fact={item.gear.power?.drawW}
        keep={(f, what) => {
          if (!f) return
          keep({
            edits: [{ do: 'fact', path: `items/${b.item}/power/drawW`, fact: f as Edit['fact'] }],
            what: `${b.label}: ${what}`,
          })
          if (item.shelf) onShelf.mutate({ fact: f, what })
        }}
      />
      {onShelf.data && (
        <p className="text-sm text-muted" role="status">
          {w.onShelf}
        </p>
      )}
      {onShelf.error && <Problems error={onShelf.error as Failure} />}
    </fieldset>
  )
}

function Supplies({ plan, now }: { plan: PowerPlan; now: Board }) {
  const circuit = now.verdict.limits.filter((l) => l.rule === 'circuit' || l.rule === 'drop')
  return (
    <section>
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.supplies}</h2>
      {plan.supplies.length === 0 && <p className="mt-2 text-muted">{w.noSupplies}</p>}
      {plan.supplies.map((s) => {
        const limits = now.verdict.limits.filter((l) => s.limits.includes(l.id))
        return (
          <div key={s.item} className="border-b border-hair py-2" data-supply={s.item}>
            <p>
              <b>{s.label}</b>{' '}
              <span className="text-sm text-muted">{words.shelf.kinds[s.kind] ?? s.kind}</span>
            </p>
            <p className="text-sm text-muted">
              {s.hangs.length ? `${w.hangs} ${s.hangs.join(', ')}` : w.nothingHangs}
              {limits.length === 0 && ` ${w.noLimit}`}
            </p>
            {limits.map((l) => (
              <details key={l.id} className="mt-1">
                <summary className="cursor-pointer text-sm leading-6">
                  <StateWord state={l.state} /> {l.share && <b>{l.share} </b>}
                  {l.says}
                </summary>
                <LimitCard limit={l} />
              </details>
            ))}
          </div>
        )
      })}
      {circuit.map((l) => (
        <details key={l.id} className="border-b border-hair py-2" data-limit={l.id}>
          <summary className="cursor-pointer text-sm leading-6">
            <StateWord state={l.state} /> <b>{l.what}</b> {l.figure}
          </summary>
          <LimitCard limit={l} />
        </details>
      ))}
      {circuit.some((l) => l.caution) && (
        <p className="mt-2 border-l-4 border-taut pl-2 text-[13px] leading-4">
          {circuit.find((l) => l.caution)!.caution}
        </p>
      )}
    </section>
  )
}

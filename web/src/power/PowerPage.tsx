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
      <div className="grid gap-x-12 gap-y-10 xl:grid-cols-2">
        <div className="space-y-8">
          {worstFirst(data.batteries).map((b) => (
            <Ways key={b.item} battery={b} now={now} keep={keep} />
          ))}
        </div>
        <Supplies plan={data} now={now} />
      </div>
    </div>
  )
}

const order = ['snapped', 'untested', 'taut', 'slack']
const worstFirst = (all: Battery[]) =>
  [...all].sort((a, b) => order.indexOf(a.state) - order.indexOf(b.state))

/** The ways to power one camera, each judged in this very rig. */
function Ways({ battery: b, now, keep }: { battery: Battery; now: Board; keep: Keep }) {
  return (
    <section data-battery={b.item}>
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.ways(b.label)}</h2>
      <Draw battery={b} now={now} keep={keep} />
      <ul>
        {b.ways.map((way) => (
          <li key={way.name} className="border-b border-hair py-2" data-way={way.name}>
            <div className="flex items-center gap-3">
              <Glyph state={way.state} />
              <span className="min-w-0 flex-1">
                <b>{way.name}</b> <StateWord state={way.state} />
              </span>
              {way.now ? (
                <span className="text-sm text-muted">{w.now}</span>
              ) : (
                <button
                  className="act text-sm"
                  disabled={now.frozen}
                  aria-label={`${w.keep}: ${way.name}, ${b.label}`}
                  onClick={() => keep({ edits: way.edits, what: w.kept(b.label, way.name) })}
                >
                  {w.keep}
                </button>
              )}
            </div>
            <p className="text-sm text-muted">{way.says}</p>
            {way.caution && (
              <p className="mt-1 border-l-4 border-taut pl-2 text-[13px] leading-4">{way.caution}</p>
            )}
          </li>
        ))}
      </ul>
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
        name={w.draw}
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
      <p className="text-sm text-muted" role="status">
        {onShelf.data ? w.onShelf : w.drawHelp}
      </p>
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
              <details key={l.id} className="mt-1" open={l.state === 'snapped'}>
                <summary className="cursor-pointer text-sm">
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
        <LimitCard key={l.id} limit={l} />
      ))}
    </section>
  )
}

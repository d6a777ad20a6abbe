import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Board, type Failure, type Placed } from '../api/client'
import { keys } from '../api/keys'
import type { Change } from '../parts/change'
import { Problems } from '../parts/Frame'
import { RigPage } from '../parts/RigPage'
import { words } from '../words'
import { Labels } from './Labels'
import { ReadMachine } from './ReadMachine'
import { Tree } from './Tree'

const w = words.ports

/** Controllers, hubs and sockets with what they carry, and the best placing beside the present one. */
export function PortsPage() {
  return (
    <RigPage title={w.title} line={(now) => <Line now={now} />}>
      {(now, save) => <Ports now={now} keep={save.settled} busy={save.isPending} />}
    </RigPage>
  )
}

function usePlacing(now: Board) {
  return useQuery({
    queryKey: keys.placing(now.rig),
    queryFn: ({ signal }) => api.place(now.rig, signal),
    placeholderData: (was) => was,
    staleTime: Infinity,
  })
}

/** The sockets and slots that stay snapped when the plugs are where they are best. */
const left = (p: Placed) => p.after.filter((r) => r.state === 'snapped').map((r) => r.label)

function Line({ now }: { now: Board }) {
  const { data, isFetching } = usePlacing(now)
  if (!data) return isFetching ? w.looking : null
  const s = data.suggestion
  const plugs = data.now.filter((r) => r.lead).length - s.moves.length
  const todo = [
    s.moves.length > 0 && w.movePlugs(s.moves.length),
    s.formats.length > 0 && w.setFormats(s.formats.length),
  ].filter(Boolean)
  return (
    <>
      <b>{w.settled}</b> {w.plugs(plugs)}.{' '}
      {left(data).length > 0 && (
        <>
          <b>{w.open}</b> {left(data).join(', ')}.{' '}
        </>
      )}
      {!s.possible ? (
        <>
          <b>{w.open}</b> {w.noPlacing}.
        </>
      ) : (
        todo.length > 0 && (
          <>
            <b>{w.next}</b> {todo.join(', ')}.
          </>
        )
      )}
    </>
  )
}

function Ports({ now, keep, busy }: { now: Board; keep: (c: Change) => Promise<boolean>; busy: boolean }) {
  const placing = usePlacing(now)
  const queries = useQueryClient()
  const [stopped, setStopped] = useState(false)
  const data = placing.data
  const moved = data?.suggestion.moves.map((m) => m.lead) ?? []
  const changes = data ? moved.length + data.suggestion.formats.length : 0
  return (
    <>
      {placing.error && !placing.isFetching && <Problems error={placing.error as Failure} />}
      {placing.isFetching && (
        <p role="status" className="mb-3 flex items-center gap-4 text-muted">
          {w.looking}
          <button
            className="act text-sm"
            onClick={() => {
              setStopped(true)
              void queries.cancelQueries({ queryKey: keys.placing(now.rig) })
            }}
          >
            {w.stop}
          </button>
        </p>
      )}
      {stopped && !placing.isFetching && (
        <p role="status" className="mb-3 flex items-center gap-4">
          {w.stopped}
          <button
            className="act text-sm"
            onClick={() => {
              setStopped(false)
              void placing.refetch()
            }}
          >
            {w.lookAgain}
          </button>
        </p>
      )}
      {data && (
        <>
          <Suggestion
            placed={data}
            keep={(c) => void keep(c)}
            locked={now.frozen || busy || placing.isPlaceholderData}
          />
          <div className={`mt-8 grid gap-x-12 gap-y-8 print:hidden ${changes ? 'xl:grid-cols-2' : ''}`}>
            <Tree title={w.asItIs} rows={data.now} moved={[]} />
            {changes > 0 && <Tree title={w.suggested} rows={data.after} moved={moved} />}
          </div>
          <Shared placed={data} />
        </>
      )}
      <div className="mt-10 grid gap-x-12 gap-y-8 xl:grid-cols-2 print:block">
        <ReadMachine rig={now.rig} keep={keep} locked={now.frozen || busy} />
        {data && <Labels rows={data.now} name={now.name} />}
      </div>
    </>
  )
}

/** What to do, as a short list, and how sure that is. */
function Suggestion({
  placed,
  keep,
  locked,
}: {
  placed: Placed
  keep: (c: Change) => void
  locked: boolean
}) {
  const s = placed.suggestion
  return (
    <section aria-labelledby="moves" className="print:hidden" data-testid="suggestion">
      <h2 id="moves" className="border-b border-ink pb-1 text-lg font-semibold">
        {w.moves}
      </h2>
      {!s.possible ? (
        <div className="mt-2">
          <p>
            <b className="text-snapped">{w.none}</b> {s.why}.
          </p>
          {s.changes.length > 0 && (
            <>
              <p className="mt-1 font-semibold">{w.wouldHold}</p>
              <ul className="list-disc pl-5">
                {s.changes.map((c) => (
                  <li key={c}>{c}</li>
                ))}
              </ul>
            </>
          )}
        </div>
      ) : (
        <div className="mt-2 flex flex-wrap items-start justify-between gap-4">
          <div>
            {s.moves.length + s.formats.length === 0 && <p>{w.noMoves}</p>}
            <ol className="list-decimal pl-5 text-[17px] leading-7">
              {s.moves.map((m) => (
                <li key={m.lead}>{m.words}</li>
              ))}
              {s.formats.map((f) => (
                <li key={f.item}>{w.format(f.label, f.was, f.is)}</li>
              ))}
            </ol>
            {left(placed).length > 0 && (
              <p>
                <b className="text-snapped">{w.notCured}</b> {left(placed).join(', ')}. {w.notCuredHelp}
              </p>
            )}
            {s.lost && (
              <p>
                {w.lost} {s.lost}.
              </p>
            )}
            {s.even && (
              <p className="mt-1" data-testid="even">
                {w.even(s.even.moves.length, Math.round(s.even.now * 100), Math.round(s.even.then * 100))}{' '}
                <button
                  className="quiet font-semibold"
                  disabled={locked}
                  onClick={() => keep({ edits: s.even!.edits, what: w.evenApplied })}
                >
                  {w.evenApply}
                </button>
              </p>
            )}
            <p className="mt-1 text-sm text-muted">
              {w.why} {s.proven ? w.proven : w.notProven} {!s.sure && w.asLikely}
            </p>
          </div>
          {s.edits.length > 0 && (
            <button
              className="act"
              disabled={locked}
              onClick={() => keep({ edits: s.edits, what: w.applied })}
            >
              {w.apply}
            </button>
          )}
        </div>
      )}
    </section>
  )
}

function Shared({ placed }: { placed: Placed }) {
  const shared = placed.suggestion.shared
  if (!shared.length) return null
  return (
    <section className="mt-10 print:hidden">
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.shared}</h2>
      <div className="overflow-x-auto">
        <table className="w-full max-w-4xl text-sm">
          <thead>
            <tr className="text-muted">
              <th />
              {[w.now, w.after, w.carries].map((h) => (
                <th key={h} className="py-1 pl-6 text-right font-normal">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {shared.map((x) => (
              <tr key={x.name + x.unit} className="border-t border-hair">
                <td className="py-1">{x.name}</td>
                {[
                  [x.now, x.nowOver] as const,
                  [x.suggested, x.over] as const,
                  [x.carries, false] as const,
                ].map(([v, over], i) => (
                  <td
                    key={i}
                    className={`py-1 pl-6 text-right whitespace-nowrap ${over ? 'font-semibold text-snapped' : ''}`}
                  >
                    {v.toFixed(1)} {x.unit}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  )
}

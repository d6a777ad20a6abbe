import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Board, type Edit, type Failure, type Sending } from '../api/client'
import { keys } from '../api/keys'
import { Problems } from '../parts/Frame'
import { RigPage } from '../parts/RigPage'
import { StateWord } from '../parts/StateWord'
import type { Change } from '../parts/change'
import { words } from '../words'
import { Computer } from './Computer'
import { Kept } from './Kept'
import { Ladder } from './Ladder'
import type { Hold } from './hold'
import { SheetView } from './SheetView'
import { Viewers } from './Viewers'

const w = words.send

/** What viewers get, what the computer does, what is kept: and every value to type into the program. */
export function SendPage() {
  return (
    <RigPage title={w.title} line={(now) => <Line now={now} />}>
      {(now, save) => (
        <Send key={now.id} now={now} keep={save.mutate} settled={save.settled} busy={save.isPending} />
      )}
    </RigPage>
  )
}

function useSending(now: Board, held: Edit[]) {
  return useQuery({
    queryKey: keys.sending(now.rig, held),
    queryFn: () => api.send(now.rig, held),
    placeholderData: (was) => was,
    staleTime: Infinity,
  })
}

function Line({ now }: { now: Board }) {
  const { data } = useSending(now, [])
  if (!data) return words.board.loading
  const bad = data.limits.filter((l) => l.state !== 'slack')
  const worst = bad.find((l) => l.state === 'snapped') ?? bad.find((l) => l.state === 'untested') ?? bad[0]
  return (
    <>
      <b>{w.settled}</b> {w.holds(data.limits.length - bad.length, data.limits.length)}
      {worst && (
        <>
          {' '}
          <b>{w.next}</b> {worst.what}.
        </>
      )}
    </>
  )
}

function Send({
  now,
  keep,
  settled,
  busy,
}: {
  now: Board
  keep: (c: Change) => void
  settled: (c: Change) => Promise<boolean>
  busy: boolean
}) {
  const [held, setHeld] = useState<{ slot: string; change: Change }[]>([])
  const edits = held.flatMap((h) => h.change.edits)
  const { data, error } = useSending(now, edits)
  const hold: Hold = (slot, change) =>
    setHeld((was) => [...was.filter((h) => h.slot !== slot), { slot, change }])
  const free = now.newest && !now.frozen
  if (error && !data) return <Problems error={error as Failure} />
  if (!data) return <p role="status">{words.board.loading}</p>
  return (
    <div
      onKeyDown={(e) => {
        if (e.key === 'Escape' && held.length) setHeld([])
      }}
    >
      {error && (
        <div className="mb-3 border-l-4 border-snapped pl-4">
          <Problems error={error as Failure} />
        </div>
      )}
      {held.length > 0 && (
        <HeldHere
          now={now}
          then={data}
          held={held.map((h) => h.change.what)}
          busy={busy}
          keep={() => {
            keep({ edits, what: held.map((h) => h.change.what).join(', ') })
            setHeld([])
          }}
          drop={() => setHeld([])}
        />
      )}
      <Viewers now={now} send={data} hold={hold} free={free} />
      <div className="grid gap-x-10 gap-y-6 lg:grid-cols-2">
        <Computer now={now} send={data} hold={hold} keep={keep} free={free} />
        <Kept now={now} send={data} hold={hold} keep={keep} free={free} />
      </div>
      <Ladder now={now} send={data} hold={hold} keep={keep} settled={settled} free={free} />
      <SheetView now={now} send={data} held={held.length > 0} />
    </div>
  )
}

/** What is held, with the verdict before and after. */
function HeldHere(p: {
  now: Board
  then: Sending
  held: string[]
  busy: boolean
  keep: () => void
  drop: () => void
}) {
  return (
    <section
      className="sticky top-0 z-10 mb-4 flex flex-wrap items-center gap-x-6 gap-y-2 border border-ink bg-sheet px-4 py-2"
      data-testid="held"
      role="status"
    >
      <p className="min-w-0 flex-1">
        <b>{words.board.held}:</b> {p.held.join(', ')}.{' '}
        <span className="whitespace-nowrap">
          {w.before} <StateWord state={p.now.verdict.state} />, {w.after} <StateWord state={p.then.state} />
        </span>
      </p>
      <button className="act act-main text-sm" disabled={p.busy} onClick={p.keep}>
        {words.board.keep}
      </button>
      <button className="act text-sm" onClick={p.drop}>
        {w.putBack}
      </button>
    </section>
  )
}

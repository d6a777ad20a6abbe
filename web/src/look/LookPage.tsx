import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { useSearchParams } from 'react-router'
import { api, type Board, type Failure } from '../api/client'
import { keys } from '../api/keys'
import { Drop, recordings } from '../parts/Drop'
import { Problems } from '../parts/Frame'
import { ImportButton } from '../parts/ImportButton'
import { RigPage } from '../parts/RigPage'
import type { Change } from '../parts/change'
import { words } from '../words'
import { lookAt, type Looking } from './clip'
import { Devices } from './Devices'
import { Report } from './Report'
import { TickNights } from './TickNights'
import { orderOf } from './ticks'

const w = words.look

/** What a test recording really shows and plays, beside what was planned. */
export function LookPage() {
  return (
    <RigPage title={w.title} line={() => w.line}>
      {(now, save) => <Look now={now} keep={save.settled} />}
    </RigPage>
  )
}

function Look({ now, keep }: { now: Board; keep: (c: Change) => Promise<boolean> }) {
  const { data: choices, error } = useQuery({
    queryKey: keys.lookedOf(now.id, now.revision),
    queryFn: () => api.lookedOf(now.id),
  })
  const sheet = useQuery({
    queryKey: keys.runSheet(now.id, now.revision, 2),
    queryFn: () => api.runSheet(now.id, 2),
  })
  const [of, setOf] = useState(useSearchParams()[0].get('of') ?? 'programme')
  const [at, setAt] = useState<Looking>()
  const [name, setName] = useState('')
  const [failed, setFailed] = useState<Failure>()
  const going = useRef<AbortController>(undefined)
  const busy = !!name && !at?.looked && !failed
  useEffect(() => () => going.current?.abort(), [])
  const take = (clip: File) => {
    going.current?.abort()
    const here = (going.current = new AbortController())
    setName(clip.name)
    setAt({ done: 0, of: 0 })
    setFailed(undefined)
    const mine = (then: () => void) => going.current === here && then()
    lookAt(now.id, of, clip, (l) => mine(() => setAt(l)), here.signal).catch((e: Failure) =>
      mine(() => (here.signal.aborted ? setName('') : setFailed(e))),
    )
  }
  return (
    <>
      <Devices
        rig={now}
        choices={choices ?? []}
        order={orderOf(sheet.data?.steps ?? [])}
        keep={keep}
        then={(p) => <TickNights rig={now.id} preflight={p} />}
      />
      <h2 className="mb-3 border-b border-ink pb-1 text-lg font-semibold">{w.clip}</h2>
      <Drop bring={take}>
        <p className="max-w-2xl text-sm text-muted">{w.help}</p>
        <div className="mt-3 flex flex-wrap items-center gap-3">
          <label className="flex items-center gap-2">
            {w.of}
            <select className="field max-w-64" value={of} onChange={(e) => setOf(e.target.value)}>
              {(choices ?? [{ what: 'programme', says: w.programme }]).map((c) => (
                <option key={c.what} value={c.what}>
                  {c.says}
                </option>
              ))}
            </select>
          </label>
          <ImportButton label={w.choose} accept={recordings} bring={take} />
          <span className="text-sm text-muted">{w.orDrop}</span>
        </div>
        <p className="mt-2 text-xs text-muted">{w.privacy}</p>
      </Drop>
      {error && <Problems error={error as Failure} />}
      {busy && (
        <p role="status" className="mt-4 flex flex-wrap items-center gap-3">
          <span className="min-w-0 truncate">
            {at?.waits ? w.waits : at?.of ? w.looking(name) : w.sending(name)}
          </span>
          <progress
            className="accent-ink"
            max={1}
            value={at?.of ? at.done / at.of : undefined}
            aria-label={w.looking(name)}
          />
          <button
            className="act"
            onClick={() => {
              going.current?.abort()
              setName('')
            }}
          >
            {w.callOff}
          </button>
        </p>
      )}
      {failed && (
        <div className="mt-4">
          <p className="truncate">{w.failed(name)}</p>
          <Problems error={failed} />
        </div>
      )}
      {at?.looked && !busy && <Report of={name} looked={at.looked} cut={at.cut} keep={keep} />}
    </>
  )
}

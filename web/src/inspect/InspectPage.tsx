import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { useSearchParams } from 'react-router'
import { api, type Board, type Failure } from '../api/client'
import { keys } from '../api/keys'
import { TickNights } from '../look/TickNights'
import { Drop, recordings } from '../parts/Drop'
import { Problems } from '../parts/Frame'
import { ImportButton } from '../parts/ImportButton'
import { RigPage } from '../parts/RigPage'
import type { Change } from '../parts/change'
import { words } from '../words'
import { InspectReport } from './InspectReport'
import { Queue } from './Queue'
import { inspectClip } from './clip'

const w = words.inspect

/** What a test recording really is: what it shows and plays, how it is coded, held against the plan. */
export function InspectPage() {
  return (
    <RigPage title={w.title} line={() => w.line}>
      {(now, save) => <Inspect now={now} keep={save.settled} />}
    </RigPage>
  )
}

function Inspect({ now, keep }: { now: Board; keep: (c: Change) => Promise<boolean> }) {
  const [asked, setAsked] = useSearchParams()
  const choices = useQuery({
    queryKey: keys.inspectedOf(now.id, now.revision),
    queryFn: () => api.inspectedOf(now.id),
  })
  const queries = useQueryClient()
  const list = useQuery({
    queryKey: keys.inspections(now.id),
    queryFn: () => api.inspections(now.id),
    refetchInterval: (q) =>
      q.state.data?.some((i) => i.state === 'waits' || i.state === 'runs') ? 400 : false,
  })
  const open = asked.get('clip') ?? list.data?.find((i) => i.state === 'done')?.id
  const show = useQuery({
    queryKey: keys.inspection(open ?? ''),
    queryFn: () => api.inspection(open!),
    enabled: !!open && !!list.data?.some((i) => i.id === open && i.state === 'done'),
  })
  const [of, setOf] = useState(asked.get('of') ?? '')
  const [second, setSecond] = useState<File>()
  const [sending, setSending] = useState('')
  const [failed, setFailed] = useState<Failure>()
  const going = useRef<AbortController>(undefined)
  useEffect(() => () => going.current?.abort(), [])
  const what = of || choices.data?.[0]?.what || 'programme'
  const take = async (clip: File) => {
    going.current?.abort()
    const here = (going.current = new AbortController())
    setSending(clip.name)
    setFailed(undefined)
    try {
      const one = await inspectClip(now.id, what, clip, second, here.signal)
      setAsked({ clip: one.id })
      await queries.invalidateQueries({ queryKey: keys.inspections(now.id) })
    } catch (e) {
      if (!here.signal.aborted) setFailed(e as Failure)
    }
    setSending('')
    setSecond(undefined)
  }
  return (
    <>
      <Drop bring={(f) => void take(f)}>
        <p className="max-w-2xl text-sm text-muted">{w.help}</p>
        <div className="mt-3 flex flex-wrap items-center gap-3">
          <label className="flex min-w-0 items-center gap-2">
            <span className="whitespace-nowrap">{w.of}</span>
            <select className="field max-w-64" value={what} onChange={(e) => setOf(e.target.value)}>
              {(choices.data ?? []).map((c) => (
                <option key={c.what} value={c.what}>
                  {c.says}
                </option>
              ))}
            </select>
          </label>
          <ImportButton label={w.choose} accept={recordings} bring={(f) => void take(f)} />
          <span className="text-sm text-muted">{w.orDrop}</span>
        </div>
        <p className="mt-2 flex flex-wrap items-center gap-3 text-sm">
          {second ? w.secondIs(second.name) : w.second}
          {second ? (
            <button className="quiet" onClick={() => setSecond(undefined)}>
              {w.leaveOut}
            </button>
          ) : (
            <ImportButton label={w.chooseSecond} accept={recordings} bring={setSecond} />
          )}
        </p>
        <p className="mt-2 text-xs text-muted">{w.privacy}</p>
      </Drop>
      {choices.error && <Problems error={choices.error} />}
      {sending && (
        <p role="status" className="mt-4 flex flex-wrap items-center gap-3">
          <span className="min-w-0 truncate">{w.sending(sending)}</span>
          <progress className="accent-ink" aria-label={w.sending(sending)} />
          <button
            className="act"
            onClick={() => {
              going.current?.abort()
              setSending('')
            }}
          >
            {w.callOff}
          </button>
        </p>
      )}
      {failed && (
        <div className="mt-4">
          <Problems error={failed} />
        </div>
      )}
      {list.error && <Problems error={list.error} />}
      {list.data && (
        <Queue
          all={list.data}
          choices={choices.data ?? []}
          open={open}
          choose={(id) => setAsked({ clip: id })}
          callOff={(id) =>
            api.callOffInspection(id).then(
              () => queries.invalidateQueries({ queryKey: keys.inspections(now.id) }),
              (e: Failure) => setFailed(e),
            )
          }
        />
      )}
      {show.isPending && show.fetchStatus === 'fetching' && <p role="status">{words.board.loading}</p>}
      {show.error && <Problems error={show.error} />}
      {show.data?.inspected && (
        <>
          <InspectReport key={show.data.id} one={show.data} keep={keep} />
          {show.data.preflight && <TickNights rig={now.id} preflight={show.data.preflight} />}
        </>
      )}
    </>
  )
}

import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, type Board, type Failure } from '../api/client'
import { keys } from '../api/keys'
import { Problems } from '../parts/Frame'
import { RigPage } from '../parts/RigPage'
import { words } from '../words'
import { Live } from './Live'
import { Report } from './Report'

const w = words.rehearse

const ways = ['rtmp', 'srt', 'webrtc'] as const

/** A destination of one's own: what the program really sends, held against the sheet while it comes. */
export function RehearsePage() {
  return (
    <RigPage title={w.title} line={() => w.line}>
      {(now) => <Rehearse now={now} />}
    </RigPage>
  )
}

function Rehearse({ now }: { now: Board }) {
  const queries = useQueryClient()
  const choices = useQuery({
    queryKey: keys.inspectedOf(now.id, now.revision),
    queryFn: () => api.inspectedOf(now.id),
  })
  const streams = (choices.data ?? []).filter((c) => c.what.startsWith('stream-'))
  const all = useQuery({
    queryKey: keys.rehearsals(now.id),
    queryFn: () => api.rehearsals(now.id),
    refetchInterval: (q) => (q.state.data?.some((r) => !r.ended) ? 500 : false),
  })
  const reports = useQuery({ queryKey: keys.reports(now.id), queryFn: () => api.reports(now.id) })
  const [part, setPart] = useState('')
  const [by, setBy] = useState('')
  const [lan, setLan] = useState(false)
  const [busy, setBusy] = useState(false)
  const [failed, setFailed] = useState<Failure>()
  const what = part || streams[0]?.what
  const act = async (does: () => Promise<unknown>) => {
    setBusy(true)
    setFailed(undefined)
    try {
      await does()
    } catch (e) {
      setFailed(e as Failure)
    }
    setBusy(false)
    await queries.invalidateQueries({ queryKey: keys.rehearsals(now.id) })
    await queries.invalidateQueries({ queryKey: keys.reports(now.id) })
  }
  const open = (all.data ?? []).filter((r) => !r.ended)
  const ended = (all.data ?? []).find((r) => r.ended)
  return (
    <>
      {choices.error && <Problems error={choices.error} />}
      {all.error && <Problems error={all.error} />}
      {choices.data && streams.length === 0 && (
        <p className="max-w-2xl">
          {w.noStream} <Link to={`/rigs/${now.id}/show`}>{w.toShow}</Link>
        </p>
      )}
      {what && (
        <section className="rounded border border-dashed border-ink p-4" data-testid="begin">
          <p className="max-w-2xl text-sm text-muted">{w.help}</p>
          <div className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2">
            <label className="flex min-w-0 items-center gap-2">
              {w.of}
              <select className="field max-w-64" value={what} onChange={(e) => setPart(e.target.value)}>
                {streams.map((c) => (
                  <option key={c.what} value={c.what}>
                    {c.says}
                  </option>
                ))}
              </select>
            </label>
            <label className="flex items-center gap-2">
              {w.by}
              <select className="field" value={by} onChange={(e) => setBy(e.target.value)}>
                <option value="">{w.asSheet}</option>
                {ways.map((way) => (
                  <option key={way} value={way}>
                    {w.ways[way]}
                  </option>
                ))}
              </select>
            </label>
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                className="accent-ink"
                checked={lan}
                onChange={(e) => setLan(e.target.checked)}
              />
              {w.lan}
            </label>
            <button
              className="act"
              disabled={busy}
              onClick={() =>
                void act(() =>
                  api.rehearse(now.id, {
                    part: what,
                    open: lan,
                    by: ways.find((way) => way === by),
                  }),
                )
              }
            >
              {w.begin}
            </button>
          </div>
          {lan && <p className="mt-2 max-w-2xl text-sm">{w.lanCaution}</p>}
        </section>
      )}
      {failed && (
        <div className="mt-4">
          <Problems error={failed} />
        </div>
      )}
      {open.map((r) => (
        <Live
          key={r.id}
          of={r}
          rig={now.id}
          busy={busy}
          dip={(kind, value, seconds) => void act(() => api.dip(r.id, { kind, value, seconds }))}
          end={() => void act(() => api.endRehearsal(r.id))}
        />
      ))}
      {open.length === 0 && ended && (
        <Live of={ended} rig={now.id} busy={busy} dip={() => undefined} end={() => undefined} />
      )}
      {reports.error && <Problems error={reports.error} />}
      {reports.data && reports.data.length > 0 && (
        <section className="mt-8" data-testid="reports">
          <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.reports}</h2>
          {reports.data.slice(0, 12).map((r) => (
            <Report key={r.id} of={r} newest={now.revision} />
          ))}
        </section>
      )}
    </>
  )
}

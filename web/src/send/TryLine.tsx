import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { api, Failure, zoned } from '../api/client'
import { keys } from '../api/keys'
import { linesOf } from '../api/lines'
import type { components } from '../api/schema'
import { Takes } from '../look/Takes'
import { Tick } from '../parts/Field'
import { Problems } from '../parts/Frame'
import type { Change } from '../parts/change'
import { words } from '../words'

const w = words.send.try

type Trying = components['schemas']['Trying']

/** The host of an address, as a button names it. */
const host = (address: string) => /^(?:rtmps?|srt):\/\/([^/?]+)/.exec(address.trim())?.[1] ?? address.trim()

/** Sends a test picture to an ingest somebody names, and shows what arrived. */
export function TryLine({
  rig,
  revision,
  keep,
}: {
  rig: string
  revision: number
  keep: (c: Change) => Promise<boolean>
}) {
  const [open, setOpen] = useState(false)
  const needs = useQuery({
    queryKey: keys.lineNeeds(rig, revision),
    queryFn: () => api.lineNeeds(rig),
    enabled: open,
  })
  const [address, setAddress] = useState('')
  const [key, setKey] = useState('')
  const [seconds, setSeconds] = useState(60)
  const [air, setAir] = useState(false)
  const [at, setAt] = useState<Trying>()
  const [failed, setFailed] = useState<Failure>()
  const going = useRef<AbortController>(undefined)
  const [busy, setBusy] = useState(false)
  useEffect(() => () => going.current?.abort(), [])
  const go = async () => {
    going.current?.abort()
    const here = (going.current = new AbortController())
    setBusy(true)
    setAt(undefined)
    setFailed(undefined)
    try {
      const sent = await fetch(`/api/rigs/${rig}/line`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({
          address: address.trim(),
          key,
          seconds,
          by: air ? 'air' : 'wired',
          at: zoned(new Date()),
        }),
        signal: here.signal,
      })
      setKey('') // used once
      await linesOf<Trying>(sent, setAt, w.broken)
    } catch (e) {
      if (!here.signal.aborted) setFailed(e instanceof Failure ? e : new Failure(0, w.broken))
    }
    setBusy(false)
  }
  if (!open)
    return (
      <button className="act mt-2" aria-expanded={false} onClick={() => setOpen(true)}>
        {w.open}
      </button>
    )
  const tried = at?.tried
  return (
    <section className="mt-3 border border-hair p-4 text-sm" data-testid="try-line">
      <h3 className="font-semibold">{w.open}</h3>
      <p className="mt-1 max-w-2xl text-muted">{w.help}</p>
      <p className="mt-1 max-w-2xl border-l-4 border-kinked pl-3">{w.caution}</p>
      <form
        className="mt-3 flex flex-wrap items-center gap-3"
        autoComplete="off"
        onSubmit={(e) => {
          e.preventDefault()
          void go()
        }}
      >
        <label className="flex min-w-0 flex-wrap items-center gap-2">
          {w.address}
          <input
            className="field w-72 max-w-full"
            value={address}
            placeholder={w.place}
            onChange={(e) => setAddress(e.target.value)}
          />
        </label>
        <label className="flex items-center gap-2">
          {w.key}
          <input
            className="field w-40"
            type="password"
            autoComplete="new-password"
            value={key}
            onChange={(e) => setKey(e.target.value)}
          />
        </label>
        <label className="flex items-center gap-2">
          {w.seconds}
          <select
            className="field"
            aria-label={w.howLong}
            value={seconds}
            onChange={(e) => setSeconds(Number(e.target.value))}
          >
            {[10, 60, 300].map((s) => (
              <option key={s} value={s}>
                {s} s
              </option>
            ))}
          </select>
        </label>
        <Tick label={w.air} value={air} keep={setAir} />
        <button className="act max-w-full truncate" disabled={busy}>
          {w.go(host(address))}
          {needs.data && `, ${needs.data.kbps} kb/s`}
        </button>
        {busy && (
          <button type="button" className="act" onClick={() => going.current?.abort()}>
            {w.stop}
          </button>
        )}
      </form>
      <p className="mt-1 text-muted">{w.own}</p>
      {busy && !tried && (
        <p role="status" className="mt-2 flex flex-wrap items-center gap-3 tabular-nums">
          {at?.waits ? w.waits : at?.done ? w.going(at.done, at.of, at.mbps) : w.making}
          <progress className="accent-ink" max={1} value={at?.done ? at.done / at.of : undefined} />
        </p>
      )}
      {failed && <Problems error={failed} />}
      {tried && (
        <div className="mt-3" data-testid="tried" aria-live="polite">
          <p className="font-semibold">{tried.sentence}</p>
          <dl className="mt-2 flex flex-wrap gap-x-8 gap-y-2">
            {tried.figures.map((f) => (
              <div key={f.what}>
                <dt className="text-muted">{f.what}</dt>
                <dd className="tabular-nums">{f.says}</dd>
              </div>
            ))}
          </dl>
          {tried.notes.map((n) => (
            <p key={n} className="mt-1 text-muted">
              {n}
            </p>
          ))}
          {tried.takes.length > 0 && <Takes takes={tried.takes} of={w.of} keep={keep} />}
        </div>
      )}
    </section>
  )
}

import { useEffect, useRef, useState } from 'react'
import { words } from '../words'
import type { Now } from './batch'
import type { Ask, Device, Row } from './device'

const w = words.look.devices

/** Sizes and rates a camera can be opened at besides what the plan wants: those of handbook 1.1. */
const others: Ask[] = [
  { width: 3840, height: 2160, rate: 30 },
  { width: 1920, height: 1080, rate: 60 },
  { width: 1920, height: 1080, rate: 30 },
  { width: 1280, height: 720, rate: 60 },
  { width: 1280, height: 720, rate: 30 },
  { width: 640, height: 480, rate: 30 },
]

/** One camera or microphone: its name, which of the rig it is, and while it is open its picture and figures. */
export function DeviceRow({
  row,
  choices,
  at,
  changes,
  busy,
  name,
  look,
  stop,
}: {
  row: Row
  choices: { what: string; says: string }[]
  at?: { device: Device; now?: Now; trouble?: string }
  /** It is the one that changes while somebody waves. */
  changes: boolean
  busy: boolean
  name: (of: string) => void
  look: (seconds: number, as?: Ask) => void
  stop: () => void
}) {
  const [seconds, setSeconds] = useState(10)
  const [as, setAs] = useState(-1)
  const picture = row.kind === 'videoinput'
  const mine = choices.filter((c) => c.what === 'programme' || c.what.startsWith('sound:') !== picture)
  return (
    <li
      className={`grid gap-x-4 gap-y-2 border-b border-hair py-3 sm:grid-cols-[minmax(0,1fr)_auto] ${changes ? 'border-l-4 border-l-slack pl-3' : ''}`}
      data-testid="device"
    >
      <div className="min-w-0">
        <p className="truncate font-semibold">
          {row.label}
          {changes && <span className="ml-3 text-slack">{w.changes}</span>}
        </p>
        <div className="mt-1 flex flex-wrap items-center gap-3">
          <select
            className="field max-w-64"
            aria-label={w.is(row.label)}
            value={row.of}
            onChange={(e) => name(e.target.value)}
          >
            <option value="">{w.unknown}</option>
            {mine.map((c) => (
              <option key={c.what} value={c.what}>
                {c.says}
              </option>
            ))}
          </select>
          <span className="text-sm text-muted">{row.why}</span>
        </div>
        {at && <Figures now={at.now} trouble={at.trouble} />}
      </div>
      <div className="flex flex-wrap items-start gap-2">
        {at && picture && <Picture device={at.device} label={row.label} />}
        {at ? (
          <button className="act" onClick={stop}>
            {w.stop}
          </button>
        ) : (
          <>
            {picture && (
              <select
                className="field max-w-40 text-sm"
                aria-label={w.openAs(row.label)}
                value={as}
                onChange={(e) => setAs(Number(e.target.value))}
              >
                <option value={-1}>{w.asPlanned}</option>
                {others.map((o, k) => (
                  <option key={k} value={k}>
                    {w.asSize(o.width, o.height, o.rate)}
                  </option>
                ))}
              </select>
            )}
            <label className="flex items-center gap-2 text-sm">
              {w.forHow}
              <select
                className="field max-w-28"
                value={seconds}
                onChange={(e) => setSeconds(Number(e.target.value))}
              >
                {Object.entries(w.lengths).map(([s, says]) => (
                  <option key={s} value={s}>
                    {says}
                  </option>
                ))}
              </select>
            </label>
            <button className="act" disabled={busy} onClick={() => look(seconds, others[as])}>
              {w.look}
            </button>
          </>
        )}
      </div>
    </li>
  )
}

function Figures({ now, trouble }: { now?: Now; trouble?: string }) {
  const [late, setLate] = useState(false)
  useEffect(() => {
    const timer = setTimeout(() => setLate(true), 4000)
    return () => clearTimeout(timer)
  }, [])
  const parts = [
    now && w.seconds(now.seconds),
    now?.picture && w.hz(now.picture.hz),
    now?.picture?.dark && w.black,
    now?.levelDb !== undefined && w.level(now.levelDb),
  ].filter((p) => typeof p === 'string')
  return (
    <p className="mt-1 text-sm tabular-nums" data-testid="figures">
      {parts.join(' · ')}
      {now?.levelDb !== undefined && (
        <meter
          className="ml-3 w-40 align-middle"
          min={-80}
          max={0}
          low={-40}
          high={-6}
          value={now.levelDb}
          aria-label={w.level(now.levelDb)}
        />
      )}
      {!now?.seconds && late && <span className="text-untested">{w.nothing}</span>}
      {trouble && <span className="ml-3 text-snapped">{trouble}</span>}
    </p>
  )
}

/** The picture of an open camera, how it stands, and a small copy of it for whoever wants to keep one. */
function Picture({ device, label }: { device: Device; label: string }) {
  const video = useRef<HTMLVideoElement>(null)
  useEffect(() => {
    if (video.current) video.current.srcObject = device.stream
  }, [device])
  return (
    <div className="w-44">
      <video
        ref={video}
        muted
        autoPlay
        playsInline
        aria-label={label}
        className="h-24 w-44 bg-wash object-contain"
      />
      <select
        className="field mt-1 w-full text-sm"
        aria-label={w.stands(label)}
        defaultValue=""
        onChange={(e) => device.stands((e.target.value || undefined) as Parameters<typeof device.stands>[0])}
      >
        <option value="">{w.standsUnsaid}</option>
        {Object.entries(w.standsAs).map(([how, says]) => (
          <option key={how} value={how}>
            {says}
          </option>
        ))}
      </select>
      <button
        className="quiet mt-1 text-sm"
        onClick={() => video.current && keepPicture(video.current, label)}
      >
        {w.keepPicture}
      </button>
    </div>
  )
}

/** Saves a small picture on this computer: nothing keeps one by itself. */
function keepPicture(video: HTMLVideoElement, label: string) {
  const canvas = document.createElement('canvas')
  canvas.width = 480
  canvas.height = Math.round((480 * video.videoHeight) / Math.max(1, video.videoWidth))
  canvas.getContext('2d')!.drawImage(video, 0, 0, canvas.width, canvas.height)
  const a = document.createElement('a')
  a.download = `${label.replace(/[^\p{L}\p{N}]+/gu, ' ').trim() || w.unnamed}.jpg`
  a.href = canvas.toDataURL('image/jpeg', 0.85)
  a.click()
}

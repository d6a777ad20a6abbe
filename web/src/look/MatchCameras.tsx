import { type PointerEvent, useEffect, useRef, useState } from 'react'
import { api, type Failure } from '../api/client'
import type { components } from '../api/schema'
import { Problems } from '../parts/Frame'
import { words } from '../words'
import type { Device } from './device'
import { Mark } from './Mark'

const w = words.look.devices

/** A marked part of a picture, in shares of its width and height. */
type Box = { x: number; y: number; w: number; h: number }

/** Pixels either way that are taken of a mark. */
const side = 96

/** Red, green and blue of the marked part, a byte each, as base64. */
function pixelsOf(video: HTMLVideoElement, b: Box): string {
  const canvas = document.createElement('canvas')
  canvas.width = canvas.height = side
  const on = canvas.getContext('2d', { willReadFrequently: true })!
  on.imageSmoothingEnabled = false // samples of it as they are
  const { videoWidth: vw, videoHeight: vh } = video
  on.drawImage(video, b.x * vw, b.y * vh, b.w * vw, b.h * vh, 0, 0, side, side)
  const { data } = on.getImageData(0, 0, side, side)
  let text = ''
  for (let i = 0; i < data.length; i += 4) text += String.fromCharCode(data[i]!, data[i + 1]!, data[i + 2]!)
  return btoa(text)
}

/** Cameras that see one card, each with a mark on it, held against the first. */
export function MatchCameras({ open }: { open: { device: Device; label: string }[] }) {
  const videos = useRef(new Map<string, HTMLVideoElement>())
  const [marks, setMarks] = useState<Record<string, Box>>({})
  const [all, setAll] = useState<components['schemas']['Match'][]>()
  const [failure, setFailure] = useState<Failure>()
  const middle = { x: 0.45, y: 0.45, w: 0.1, h: 0.1 }
  const compare = () => {
    setFailure(undefined)
    api
      .matchCameras(
        open.map(({ device: d, label }) => ({
          label,
          pixels: pixelsOf(videos.current.get(d.look)!, marks[d.look] ?? middle),
        })),
      )
      .then(setAll, (e) => setFailure(e as Failure))
  }
  return (
    <section className="mt-4" data-testid="match">
      <p className="max-w-2xl text-sm text-muted">{w.matchHelp}</p>
      <div className="mt-2 grid gap-3 sm:grid-cols-2">
        {open.map(({ device: d, label }) => (
          <figure key={d.look} className="text-sm">
            <Marked
              stream={d.stream}
              label={label}
              mark={marks[d.look] ?? middle}
              set={(b) => setMarks((was) => ({ ...was, [d.look]: b }))}
              keep={(v) => void (v ? videos.current.set(d.look, v) : videos.current.delete(d.look))}
            />
            <figcaption className="mt-1 truncate">{label}</figcaption>
          </figure>
        ))}
      </div>
      <button className="act mt-2" onClick={compare}>
        {w.compare}
      </button>
      {failure && <Problems error={failure} />}
      {all && (
        <ul className="mt-2" role="status">
          {all.map((m) => (
            <li key={m.label} className="border-b border-hair py-1">
              <b>{m.label}</b> <Mark answer={m.answer} words={w.matches} /> {m.says}
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

/** A picture with a mark that is drawn over it, or moved and sized by the arrow keys. */
function Marked(p: {
  stream: MediaStream
  label: string
  mark: Box
  set: (b: Box) => void
  keep: (v: HTMLVideoElement | null) => void
}) {
  const video = useRef<HTMLVideoElement>(null)
  const [from, setFrom] = useState<{ x: number; y: number }>()
  const { keep, stream } = p
  useEffect(() => {
    const v = video.current
    if (v) v.srcObject = stream
    keep(v)
    return () => keep(null)
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the picture stays the same as long as its stream does
  }, [stream])
  const at = (e: PointerEvent) => {
    const box = video.current!.getBoundingClientRect()
    const share = (v: number) => Math.min(1, Math.max(0, v))
    return { x: share((e.clientX - box.left) / box.width), y: share((e.clientY - box.top) / box.height) }
  }
  const least = 0.02
  const between = (a: { x: number; y: number }, b: { x: number; y: number }) => ({
    x: Math.min(a.x, b.x, 1 - least),
    y: Math.min(a.y, b.y, 1 - least),
    w: Math.max(least, Math.abs(a.x - b.x)),
    h: Math.max(least, Math.abs(a.y - b.y)),
  })
  const moves: Record<string, [number, number]> = {
    ArrowLeft: [-0.02, 0],
    ArrowRight: [0.02, 0],
    ArrowUp: [0, -0.02],
    ArrowDown: [0, 0.02],
  }
  return (
    <div
      className="relative w-full touch-none"
      role="application"
      tabIndex={0}
      aria-label={w.markOn(p.label)}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId)
        setFrom(at(e))
      }}
      onPointerMove={(e) => from && p.set(between(from, at(e)))}
      onPointerUp={() => setFrom(undefined)}
      onKeyDown={(e) => {
        const by = moves[e.key]
        if (!by) return
        e.preventDefault()
        const { mark: m } = p
        p.set(
          e.shiftKey
            ? {
                ...m,
                w: Math.min(1 - m.x, Math.max(least, m.w + by[0])),
                h: Math.min(1 - m.y, Math.max(least, m.h + by[1])),
              }
            : {
                ...m,
                x: Math.min(1 - m.w, Math.max(0, m.x + by[0])),
                y: Math.min(1 - m.h, Math.max(0, m.y + by[1])),
              },
        )
      }}
    >
      <video ref={video} muted autoPlay playsInline aria-label={p.label} className="block w-full bg-wash" />
      <span
        aria-hidden
        className="pointer-events-none absolute border-2 border-kinked outline outline-1 outline-paper"
        style={{
          left: `${p.mark.x * 100}%`,
          top: `${p.mark.y * 100}%`,
          width: `${p.mark.w * 100}%`,
          height: `${p.mark.h * 100}%`,
        }}
      />
    </div>
  )
}

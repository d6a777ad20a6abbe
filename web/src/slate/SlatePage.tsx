import { useEffect, useRef, useState } from 'react'
import { Frame } from '../parts/Frame'
import { useTitle } from '../parts/useTitle'
import { words } from '../words'
import { every, lit, scheduleBeeps } from './beat'

const w = words.slate

/** A slate that flashes and beeps at one steady beat, to be filmed by a camera and heard by a microphone. */
export function SlatePage() {
  useTitle(undefined, w.title)
  const [small, setSmall] = useState(true)
  const [going, setGoing] = useState(false)
  const area = useRef<HTMLDivElement>(null)
  useEffect(() => {
    if (!going) return
    const sound = new AudioContext({ latencyHint: 'interactive' })
    const stop = scheduleBeeps(sound)
    let frame = 0
    const draw = () => {
      // What comes out of the loudspeaker now, by the clock of the sound; older browsers tell only what is handed to it.
      const out = sound.getOutputTimestamp?.()
      const now =
        out?.performanceTime && out.contextTime !== undefined
          ? out.contextTime + (performance.now() - out.performanceTime) / 1000
          : sound.currentTime
      if (area.current) area.current.dataset.lit = String(lit(now))
      frame = requestAnimationFrame(draw)
    }
    frame = requestAnimationFrame(draw)
    const onKey = (e: KeyboardEvent) => e.key === 'Escape' && setGoing(false)
    window.addEventListener('keydown', onKey)
    return () => {
      window.removeEventListener('keydown', onKey)
      cancelAnimationFrame(frame)
      stop()
      void sound.close()
    }
  }, [going])
  if (going)
    return (
      <main className="fixed inset-0 z-50 flex flex-col items-center justify-center bg-black text-white">
        <div
          ref={area}
          data-testid="slate"
          data-lit="false"
          aria-hidden="true"
          className={`bg-black data-[lit=true]:bg-white ${small ? 'size-[34vmin] outline outline-1 outline-[#555]' : 'absolute inset-0'}`}
        />
        <button
          className="absolute bottom-6 rounded border border-[#777] bg-black px-4 py-2 text-[#bbb]"
          onClick={() => setGoing(false)}
          autoFocus
        >
          {w.stop}
        </button>
      </main>
    )
  return (
    <Frame>
      <main className="max-w-3xl px-6 py-6 max-sm:px-4">
        <h1 className="text-2xl font-semibold tracking-tight">{w.title}</h1>
        <p className="mt-4 border-l-4 border-snapped pl-4" data-testid="caution">
          <b>{w.cautionTitle}</b> {w.caution}
        </p>
        <p className="mt-4">{w.help}</p>
        <ol className="mt-3 list-decimal pl-6">
          {w.steps(every).map((s) => (
            <li key={s} className="mt-1">
              {s}
            </li>
          ))}
        </ol>
        <p className="mt-3 text-sm text-muted">{w.calibration}</p>
        <p className="mt-6 flex flex-wrap items-center gap-4">
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="accent-ink"
              checked={small}
              onChange={(e) => setSmall(e.target.checked)}
            />
            {w.small}
          </label>
          <button className="act" onClick={() => setGoing(true)}>
            {w.begin}
          </button>
        </p>
      </main>
    </Frame>
  )
}

import type { components } from '../api/schema'
import { Findings } from '../inspect/Findings'
import { words } from '../words'

const w = words.rehearse

/** What the sound of a stream came to: how loud, what is wrong with it, and what is not. */
export function Heard({ now }: { now: components['schemas']['Rehearsed'] }) {
  const all = now.sounds ?? []
  const wrong = all.filter((f) => f.state !== 'slack')
  const well = all.filter((f) => f.state === 'slack')
  if (!now.arrived.audio) return null
  return (
    <section className="mt-5" data-testid="heard">
      <h3 className="font-semibold">{w.sound}</h3>
      <p className="text-sm text-muted tabular-nums">
        {now.heard ? w.loud(now.heard.lufs, now.heard.truePeak, now.heard.seconds) : w.unheard}
      </p>
      {wrong.length > 0 && <Findings of={wrong} />}
      {well.length > 0 && (
        <details className="mt-2 text-sm">
          <summary className="cursor-pointer">{words.look.clear(well.length)}</summary>
          <Findings of={well} />
        </details>
      )}
    </section>
  )
}

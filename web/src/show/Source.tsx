import type { Feed } from '../api/client'
import { words } from '../words'
import { Shape } from '../parts/Shape'
import { Text, Tick } from '../parts/Field'

const w = words.show

export function inside([pw, ph]: number[]) {
  const scale = Math.min(72 / pw!, 44 / ph!)
  return { x: 0, y: 0, width: pw! * scale, height: ph! * scale }
}
export type SourceProps = {
  feed: Feed
  shutter: string
  keep: (v: string) => void
  touch: (v: boolean) => void
}
/** What one source shows on the programme, its shutter in this light, and whether it is kept awake. */
export function Source({ feed: f, shutter, keep, touch }: SourceProps) {
  return (
    <div className="flex gap-4 border-b border-hair py-2" data-source={f.source}>
      <svg width="72" height="44" viewBox="0 0 72 44" aria-hidden="true" className="shrink-0">
        {f.shape && <Shape shape={f.shape} {...inside(f.shape.programme)} />}
      </svg>
      <div className="min-w-0 flex-1">
        <p className="font-semibold">{f.label}</p>
        <p className="text-sm text-muted">{f.shape ? f.shape.words || words.board.wholeFrame : w.notThere}</p>
        {f.light && (
          <div className="mt-1 flex flex-wrap items-baseline gap-x-3 text-sm">
            <span>
              {f.light.rate} {w.inLight(f.light.mainsHz)}: {f.light.words}
            </span>
            <span className="flex items-baseline gap-2">
              <span className="text-muted">{w.shutter}</span>
              <Text
                name={`${w.shutter} ${f.label}`}
                value={shutter}
                width="w-20"
                placeholder={f.light.shutter}
                keep={(v) => v && keep(v)}
              />
            </span>
          </div>
        )}
        {f.sleep && (
          <div className="mt-1 flex flex-wrap items-baseline gap-x-3 text-sm">
            <span>{f.sleep.words}</span>
            <Tick label={w.touched} value={f.sleep.touched} keep={touch} />
          </div>
        )}
      </div>
    </div>
  )
}

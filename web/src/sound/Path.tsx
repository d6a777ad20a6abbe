import type { Board, SoundPath, SoundWay } from '../api/client'
import { Num } from '../parts/Field'
import { Glyph } from '../parts/Rope'
import { Stated } from '../parts/Stated'
import { FactField } from '../shelf/FactField'
import { Claps } from './Claps'
import { Keep } from './heard'
import { words } from '../words'

const w = words.sound

export function Path(p: {
  now: Board
  path: SoundPath
  at: number
  save: Keep
  way?: SoundWay
  free: boolean
  keep: (next: SoundPath | undefined, what: string) => void
}) {
  const { path, way } = p
  const name = way?.name ?? path.voice
  const limit = p.now.verdict.limits.find((l) => l.id.startsWith(`lip-sync:${path.from}:`))
  const number = (key: 'gainDb' | 'delayMs', label: string) => (
    <label className="text-sm">
      <span className="block text-muted">{label}</span>
      <Num
        name={`${name}: ${label}`}
        unit={key === 'delayMs' ? 'ms' : 'dB'}
        disabled={!p.free}
        value={path[key]}
        placeholder={key === 'delayMs' && way ? String(way.set.ms) : ''}
        keep={(v) => v !== path[key] && p.keep({ ...path, [key]: v }, `${name}: ${label}`)}
      />
    </label>
  )
  return (
    <details className="border-b border-hair py-2" data-way={path.from}>
      <summary className="flex cursor-pointer flex-wrap items-center gap-x-3">
        <Glyph state={way?.on === 'air' ? (limit?.state ?? 'slack') : 'slack'} />
        <b>{name}</b>
        <span>
          {w.on[way?.on ?? path.on ?? 'air']}
          {way?.proposed && <span className="text-muted"> ({w.proposed})</span>}
        </span>
        {way && way.on !== 'muted' && <span className="text-muted">{w.listed(way.listedAs)}</span>}
      </summary>
      <div className="mt-2 grid gap-x-8 gap-y-2 md:grid-cols-2">
        <div className="flex flex-wrap gap-4">
          <label className="text-sm">
            <span className="block text-muted">{w.goes}</span>
            <select
              className="field"
              aria-label={name}
              disabled={!p.free}
              value={path.on ?? ''}
              onChange={(e) =>
                p.keep(
                  { ...path, on: (e.target.value || undefined) as SoundPath['on'] },
                  `${name}: ${w.on[e.target.value] ?? w.proposed}`,
                )
              }
            >
              <option value="">
                {w.proposed}
                {way?.proposed ? `: ${w.on[way.on]}` : ''}
              </option>
              {(['air', 'muted', 'track'] as const).map((o) => (
                <option key={o} value={o}>
                  {w.on[o]}
                </option>
              ))}
            </select>
          </label>
          <label className="text-sm">
            <span className="block text-muted">{w.loud}</span>
            <select
              className="field"
              disabled={!p.free}
              value={path.loud ?? ''}
              onChange={(e) =>
                p.keep(
                  { ...path, loud: (e.target.value || undefined) as SoundPath['loud'] },
                  `${name}: ${w.loud}`,
                )
              }
            >
              {Object.entries(w.louds).map(([k, label]) => (
                <option key={k} value={k}>
                  {label}
                </option>
              ))}
            </select>
          </label>
          {way?.plug && (
            <label className="text-sm">
              <span className="block text-muted">
                {w.inputOf(p.now.rig.items.find((i) => i.id === way.plug!.item)?.label ?? way.plug.item)}
              </span>
              <Num
                name={`${name}: ${w.input}`}
                low={1}
                high={64}
                whole
                width="w-16"
                disabled={!p.free}
                value={path.input}
                placeholder={String(way.plug.number)}
                keep={(v) => p.keep({ ...path, input: v }, `${name}: ${w.input} ${v ?? w.proposed}`)}
              />
            </label>
          )}
          {number('gainDb', w.gain)}
          {number('delayMs', w.delay)}
        </div>
        <div>
          <FactField
            field="sound/paths/N/distanceM"
            name={w.distance}
            fact={path.distanceM}
            keep={(f, what) => p.keep({ ...path, distanceM: f }, what)}
          />
          <FactField
            field="sound/paths/N/offsetMs"
            name={w.offset}
            fact={path.offsetMs}
            keep={(f, what) =>
              p.keep({ ...path, offsetMs: f, delayMs: path.delayMs ?? (f && way?.set.ms) }, what)
            }
          />
          {p.free && (
            <Claps
              said={path.delayMs}
              proposed={way?.set.ms ?? 0}
              keep={(f, delayMs, what) => p.keep({ ...path, offsetMs: f, delayMs }, `${name}: ${what}`)}
            />
          )}
          <FactField
            field="sound/paths/N/headroomDb"
            name={w.headroom}
            fact={path.headroomDb}
            keep={(f, what) => p.keep({ ...path, headroomDb: f }, what)}
          />
          <FactField
            field="sound/paths/N/noiseDb"
            name={w.noiseUnder}
            fact={path.noiseDb}
            keep={(f, what) => p.keep({ ...path, noiseDb: f }, what)}
          />
          <FactField
            field="sound/paths/N/nextM"
            name={w.nextOpen}
            fact={path.nextM}
            keep={(f, what) => p.keep({ ...path, nextM: f }, what)}
          />
          {p.free &&
            (['middle', 'hum', 'pad', 'oneLeg'] as const).map((of) => (
              <Stated
                key={of}
                name={w.said[of]}
                field={`sound/paths/N/${of}`}
                path={`sound/paths/${p.at}/${of}`}
                word={path[of]}
                save={p.save}
              />
            ))}
        </div>
        {p.free && (
          <p>
            <button className="quiet text-sm" onClick={() => p.keep(undefined, `${name}: ${w.remove}`)}>
              {w.remove}
            </button>
          </p>
        )}
      </div>
    </details>
  )
}

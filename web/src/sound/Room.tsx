import type { Board, Edit } from '../api/client'
import { Keep } from './heard'
import { words } from '../words'

const w = words.sound

export function Room({ now, keep, free }: { now: Board; keep: Keep; free: boolean }) {
  const sound = now.rig.sound
  if (!sound) return null
  const put = (next: Partial<typeof sound>, what: string) =>
    keep({ edits: [{ do: 'sound', sound: { ...sound, ...next } } as Edit], what })
  return (
    <section>
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.room}</h2>
      <div className="mt-2 flex flex-wrap gap-6">
        <label className="text-sm">
          <span className="block text-muted">{w.loudspeakers}</span>
          <select
            className="field"
            disabled={!free}
            value={sound.loudspeakers ?? ''}
            onChange={(e) => put({ loudspeakers: (e.target.value || undefined) as 'yes' }, w.loudspeakers)}
          >
            <option value="">{w.notSaid}</option>
            <option value="yes">{w.yes}</option>
            <option value="no">{w.no}</option>
          </select>
        </label>
        <label className="text-sm">
          <span className="block text-muted">{w.loudness}</span>
          <select
            className="field"
            disabled={!free}
            value={String(sound.targetLufs ?? 0)}
            onChange={(e) => put({ targetLufs: Number(e.target.value) || undefined }, w.loudness)}
          >
            {Object.entries(w.kinds).map(([k, label]) => (
              <option key={k} value={k}>
                {label}
              </option>
            ))}
            {sound.targetLufs && !(String(sound.targetLufs) in w.kinds) ? (
              <option value={String(sound.targetLufs)}>{sound.targetLufs} LUFS</option>
            ) : null}
          </select>
        </label>
        <label className="text-sm">
          <span className="block text-muted">{w.monitor}</span>
          <select
            className="field"
            disabled={!free}
            value={sound.monitor ?? ''}
            onChange={(e) => put({ monitor: (e.target.value || undefined) as 'none' }, w.monitor)}
          >
            {Object.entries(w.monitors).map(([k, label]) => (
              <option key={k} value={k}>
                {label}
              </option>
            ))}
          </select>
        </label>
      </div>
    </section>
  )
}

import type { Sounding } from '../api/client'
import { figure } from './heard'
import { words } from '../words'

const w = words.sound

export function Levels({ sound }: { sound: Sounding }) {
  const rows = sound.plan!.paths.filter((p) => p.levels && p.on !== 'muted')
  if (rows.length === 0) return null
  const db = (x: { low: number; value: number; high: number }, unit: string) => `${figure(x)} ${unit}`
  return (
    <section>
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.levels}</h2>
      <p className="text-sm text-muted">{w.levelsHelp}</p>
      <p className="text-sm">
        {w.target(sound.plan!.target.lufs, sound.plan!.target.within, sound.plan!.target.peak)}{' '}
        <span className="text-muted">({sound.plan!.target.source})</span>
      </p>
      <div className="overflow-x-auto">
        <table className="mt-1 w-full text-sm">
          <thead className="text-left text-muted">
            <tr>
              {[w.of, w.spl, w.mean, w.toSet, w.peaks, w.headroomHere, w.noise].map((h) => (
                <th key={h} className="pr-4 font-normal">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((p) => (
              <tr key={p.name} className="border-b border-hair">
                <td className="py-1 pr-4">{p.name}</td>
                <td className="pr-4 whitespace-nowrap">{db(p.levels!.spl, 'dB SPL')}</td>
                <td className="pr-4 whitespace-nowrap">{db(p.levels!.mean, 'dBu')}</td>
                <td className="pr-4 font-semibold whitespace-nowrap">{db(p.levels!.gain, 'dB')}</td>
                <td className="pr-4 whitespace-nowrap">{db(p.levels!.peak, 'dBFS')}</td>
                <td className="pr-4 whitespace-nowrap">{db(p.levels!.headroom, 'dB')}</td>
                <td className="whitespace-nowrap">{db(p.levels!.noise, 'dB')}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  )
}

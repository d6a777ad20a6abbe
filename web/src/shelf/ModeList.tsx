import { useState } from 'react'
import type { Mode, Port } from '../api/client'
import { words } from '../words'

const w = words.shelf
export const usual = ['24000/1001', '24', '25', '30000/1001', '30', '50', '60000/1001', '60', '120']
export const sizes = [
  '720×480',
  '720×576',
  '1280×720',
  '1920×1080',
  '2560×1440',
  '3440×1440',
  '3840×2160',
  '4096×2160',
]
export const spoken: Record<string, string> = {
  '24000/1001': '23.976',
  '30000/1001': '29.97',
  '60000/1001': '59.94',
  '120000/1001': '119.88',
}

export function modeName(m: Mode): string {
  const scan = m.interlaced ? 'i' : 'p'
  const extra = [m.chroma, m.bits && m.bits > 8 ? `${m.bits}-bit` : ''].filter(Boolean).join(' ')
  return `${m.width}×${m.height}${scan}${spoken[m.rate] ?? m.rate}${extra ? ` ${extra}` : ''}`
}

const hertz = (r: string) => {
  const [n, d] = r.split('/').map(Number)
  return n! / (d ?? 1)
}

/** A size and its scan, as a row of the grid has it. */
export const rowOf = (m: { width: number; height: number; interlaced?: boolean }) =>
  `${m.width}×${m.height}${m.interlaced ? 'i' : ''}`

/** The pictures a socket gives or takes: sizes down, rates across, a mark where it does. A mark is put and taken off in
 * place; a size that is missing gets a row of its own. */
export function ModeList({ port: p, keep }: { port: Port; keep: (modes: Mode[], what: string) => void }) {
  const modes = p.modes ?? []
  const [more, setMore] = useState<string[]>([])
  const listed = [...new Set([...modes.map(rowOf), ...more])].sort(
    (a, b) => parseInt(b.split('×')[1]!) - parseInt(a.split('×')[1]!) || parseInt(b) - parseInt(a),
  )
  const rates = [...new Set([...usual, ...modes.map((m) => m.rate)])].sort((a, b) => hertz(a) - hertz(b))
  const absent = sizes
    .flatMap((s) => (/×(1080|576|480)$/.test(s) ? [s, `${s}i`] : [s]))
    .filter((s) => !listed.includes(s))
  const toggle = (row: string, rate: string, here: Mode[]) => {
    if (here.length) {
      keep(
        modes.filter((m) => !here.includes(m)),
        `${w.without} ${here.map(modeName).join(', ')}`,
      )
      return
    }
    const [width, height] = row.replace('i', '').split('×').map(Number)
    const m: Mode = {
      width: width!,
      height: height!,
      rate,
      ...(row.endsWith('i') ? { interlaced: true } : {}),
    }
    keep([...modes, m], `${w.with} ${modeName(m)}`)
  }
  return (
    <div className="mt-1 text-sm">
      <p className="text-xs text-muted">
        {modes.length ? w.pictures(modes.length) : w.noPictures}
        {p.modesFrom ? ` · ${w.listFrom[p.modesFrom]} ${p.modesAt ?? ''}` : ''}
        {p.moreModes ? ` · ${w.mayBeMore}` : ''}
      </p>
      {listed.length > 0 && (
        <div className="max-h-80 overflow-auto">
          <table
            className="mt-1 border-collapse"
            aria-label={`${w.grid} ${p.label || p.id}`}
            data-testid="modes"
          >
            <thead>
              <tr className="text-xs text-muted">
                <th className="sr-only">{words.show.size}</th>
                {rates.map((r) => (
                  <th key={r} scope="col" className="px-0.5 text-center font-normal tabular-nums">
                    {spoken[r] ?? (r.includes('/') ? hertz(r).toFixed(2) : r)}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {listed.map((s) => (
                <tr key={s}>
                  <th
                    scope="row"
                    className="whitespace-nowrap pr-2 text-right text-xs font-normal tabular-nums"
                  >
                    {s}
                  </th>
                  {rates.map((r) => {
                    const here = modes.filter((m) => rowOf(m) === s && m.rate === r)
                    const name = here.length ? here.map(modeName).join(', ') : `${s} ${spoken[r] ?? r}`
                    return (
                      <td key={r} className="p-0">
                        <button
                          className="grid h-7 w-9 place-items-center hover:bg-wash"
                          aria-pressed={here.length > 0}
                          aria-label={name}
                          title={name}
                          onClick={() => toggle(s, r, here)}
                        >
                          <span
                            className={
                              here.length
                                ? 'block h-2.5 w-6 bg-[var(--thread)]'
                                : 'block h-px w-2 bg-[var(--twist)]'
                            }
                          />
                        </button>
                      </td>
                    )
                  })}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <select
        className="field mt-1 text-xs"
        aria-label={`${w.anotherSize} ${p.label || p.id}`}
        value=""
        onChange={(e) => setMore([...more, e.target.value])}
      >
        <option value="">{w.anotherSize}…</option>
        {absent.map((s) => (
          <option key={s}>{s}</option>
        ))}
      </select>
    </div>
  )
}

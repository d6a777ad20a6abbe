import { useState } from 'react'
import type { Mode, Port } from '../api/client'
import { words } from '../words'

const w = words.shelf
const rates = ['24000/1001', '24', '25', '30000/1001', '30', '50', '60000/1001', '60', '120']
const sizes = [
  '720×480',
  '720×576',
  '1280×720',
  '1920×1080',
  '2560×1440',
  '3440×1440',
  '3840×2160',
  '4096×2160',
]
const spoken: Record<string, string> = {
  '24000/1001': '23.976',
  '30000/1001': '29.97',
  '60000/1001': '59.94',
}

export function modeName(m: Mode): string {
  const scan = m.interlaced ? 'i' : 'p'
  const extra = [m.chroma, m.bits && m.bits > 8 ? `${m.bits}-bit` : ''].filter(Boolean).join(' ')
  return `${m.width}×${m.height}${scan}${spoken[m.rate] ?? m.rate}${extra ? ` ${extra}` : ''}`
}

/** The pictures a socket gives or takes. */
export function ModeList({ port: p, keep }: { port: Port; keep: (modes: Mode[], what: string) => void }) {
  const modes = p.modes ?? []
  const [size, setSize] = useState('1920×1080')
  const [rate, setRate] = useState('30000/1001')
  const [interlaced, setInterlaced] = useState(false)
  return (
    <details className="mt-1 text-sm">
      <summary>
        {modes.length ? w.pictures(modes.length) : w.noPictures}
        <span className="text-xs text-muted">
          {p.modesFrom ? ` · ${w.listFrom[p.modesFrom]} ${p.modesAt ?? ''}` : ''}
          {p.moreModes ? ` · ${w.mayBeMore}` : ''}
        </span>
      </summary>
      <ul className="mt-1 flex flex-wrap gap-x-3 gap-y-0.5">
        {modes.map((m, i) => (
          <li key={i} className="whitespace-nowrap">
            {modeName(m)}{' '}
            <button
              className="quiet text-xs"
              aria-label={`${words.show.remove} ${modeName(m)}`}
              onClick={() =>
                keep(
                  modes.filter((_, k) => k !== i),
                  `${w.without} ${modeName(m)}`,
                )
              }
            >
              {w.strike}
            </button>
          </li>
        ))}
      </ul>
      <form
        className="mt-1 flex flex-wrap items-center gap-2"
        onSubmit={(e) => {
          e.preventDefault()
          const [width, height] = size.split('×').map(Number)
          const m: Mode = { width: width!, height: height!, rate, ...(interlaced ? { interlaced } : {}) }
          keep([...modes, m], `${w.with} ${modeName(m)}`)
        }}
      >
        <select
          className="field"
          aria-label={`${words.show.size} ${p.id}`}
          value={size}
          onChange={(e) => setSize(e.target.value)}
        >
          {sizes.map((s) => (
            <option key={s}>{s}</option>
          ))}
        </select>
        <select
          className="field"
          aria-label={`${words.show.rate} ${p.id}`}
          value={rate}
          onChange={(e) => setRate(e.target.value)}
        >
          {rates.map((r) => (
            <option key={r} value={r}>
              {spoken[r] ?? r}
            </option>
          ))}
        </select>
        <label className="flex items-center gap-1">
          <input type="checkbox" checked={interlaced} onChange={(e) => setInterlaced(e.target.checked)} />{' '}
          {w.interlaced}
        </label>
        <button className="act text-xs">{w.addPicture}</button>
      </form>
    </details>
  )
}

import { useState } from 'react'
import type { Gear } from '../api/client'
import { words } from '../words'
import { rowOf, sizes, spoken, usual } from './ModeList'

const w = words.shelf
type Delivery = NonNullable<Gear['delivers']>[number]
const formats: Delivery['format'][] = [
  'MJPEG',
  'NV12',
  'YUY2',
  'UYVY',
  'I420',
  'RGB24',
  'BGRA',
  'P010',
  'v210',
  'H.264',
]

const named = (d: Delivery) => `${d.format} ${rowOf(d)} ${w.upTo} ${spoken[d.maxRate] ?? d.maxRate}`

/** What a device hands to the computer: each format and size up to a rate, added and taken away. */
export function Delivered({
  delivers,
  keep,
}: {
  delivers: Delivery[]
  keep: (d: Delivery[], what: string) => void
}) {
  const [format, setFormat] = useState<Delivery['format']>('MJPEG')
  const [size, setSize] = useState('1920×1080')
  const [rate, setRate] = useState('30')
  return (
    <>
      <ul className="text-sm" data-testid="delivers">
        {delivers.map((d, i) => (
          <li key={i} className="flex items-baseline gap-3 border-b border-hair py-1">
            <span className="flex-1 tabular-nums">
              {d.format} {rowOf(d)}{' '}
              {d.rates?.length
                ? d.rates.map((r) => spoken[r] ?? r).join(', ')
                : `${w.upTo} ${spoken[d.maxRate] ?? d.maxRate}`}
              {d.steps && <span className="text-muted"> · {w.andSmaller}</span>}
            </span>
            <button
              className="quiet text-xs"
              aria-label={`${words.show.remove} ${named(d)}`}
              onClick={() =>
                keep(
                  delivers.filter((_, k) => k !== i),
                  `${w.without} ${named(d)}`,
                )
              }
            >
              {words.show.remove}
            </button>
          </li>
        ))}
      </ul>
      <div className="mt-2 flex flex-wrap items-center gap-2 text-sm">
        {pick(w.format, format, formats, (v) => setFormat(v as Delivery['format']))}
        {pick(words.show.size, size, sizes, setSize)}
        {w.upTo}
        {pick(words.show.rate, rate, usual, setRate)}
        <button
          className="act"
          onClick={() => {
            const [width, height] = size.split('×').map(Number)
            const d = { format, width: width!, height: height!, maxRate: rate } as Delivery
            keep([...delivers, d], `${w.with} ${named(d)}`)
          }}
        >
          {w.addDelivery}
        </button>
      </div>
    </>
  )
}

function pick(name: string, value: string, options: string[], set: (v: string) => void) {
  return (
    <select
      className="field"
      aria-label={`${w.addDelivery}: ${name}`}
      value={value}
      onChange={(e) => set(e.target.value)}
    >
      {options.map((o) => (
        <option key={o} value={o}>
          {spoken[o] ?? o}
        </option>
      ))}
    </select>
  )
}

import type { Gear, Port } from '../api/client'
import { words } from '../words'

const w = words.shelf

/** Each socket as its opening looks, about 24 × 16. */
function Opening({ connector, x, y }: { connector: string; x: number; y: number }) {
  const line = { fill: 'var(--paper)', stroke: 'var(--ink)', strokeWidth: 1.5 }
  const tongue = { stroke: 'var(--ink)', strokeWidth: 1.5 }
  const hdmi = (half: number, tall: number) => (
    <>
      <path
        d={`M${x - half} ${y - tall}h${2 * half}v${tall}l${-half * 0.28} ${tall}h${-2 * half + half * 0.56}l${-half * 0.28} ${-tall}z`}
        {...line}
      />
      <path d={`M${x - half * 0.6} ${y - tall * 0.25}h${half * 1.2}`} {...tongue} />
    </>
  )
  switch (connector) {
    case 'hdmi-a':
      return hdmi(12, 5)
    case 'hdmi-c':
      return hdmi(9, 4)
    case 'hdmi-d':
      return hdmi(6.5, 3.5)
    case 'bnc':
      return (
        <>
          <circle cx={x} cy={y} r={8} {...line} />
          <circle cx={x} cy={y} r={3.5} {...line} />
          <circle cx={x} cy={y} r={1} fill="var(--ink)" />
          <path d={`M${x} ${y - 8}v-2.5M${x} ${y + 8}v2.5`} {...tongue} />
        </>
      )
    case 'usb-a':
      return (
        <>
          <rect x={x - 10} y={y - 4.5} width={20} height={9} {...line} />
          <path d={`M${x - 7} ${y - 1.5}h14`} {...tongue} strokeWidth={3} />
        </>
      )
    case 'usb-b':
      return <path d={`M${x - 7} ${y + 7}v-10l4 -4h6l4 4v10z`} {...line} />
    case 'usb-c':
      return (
        <>
          <rect x={x - 9} y={y - 4} width={18} height={8} rx={4} {...line} />
          <path d={`M${x - 4.5} ${y}h9`} {...tongue} />
        </>
      )
    case 'usb-micro-b':
      return <path d={`M${x - 7} ${y - 3}h14l-2 6h-10z`} {...line} />
    case 'pcie':
      return <path d={`M${x - 14} ${y - 2.5}h28v5h-20l-1.5 2l-1.5 -2h-5z`} {...line} />
    case 'lan':
      return <path d={`M${x - 8} ${y - 6}h16v12h-4v2h-8v-2h-4z`} {...line} />
  }
  return <circle cx={x} cy={y} r={4} {...line} strokeDasharray="2 2" />
}

const row = 44
const wide = 560

/** What a socket can do, in few words. */
function says(p: Port): string {
  if (p.chargeOnly) return w.chargeOnly
  if (p.usb) return w.speeds[p.usb.speed]
  if (p.sdi) return p.sdi.link === 'unknown' ? w.linkUnknown : `${p.sdi.link}-SDI`
  if (p.slot) return w.slot(p.slot.lanes, p.slot.generation)
  if (p.direction === 'in' || p.direction === 'out')
    return p.modes?.length ? w.pictures(p.modes.length) : w.noPictures
  return ''
}

const known = (p: Port) =>
  p.usb
    ? p.usb.speed !== 'unknown'
    : p.sdi
      ? p.sdi.link !== 'unknown'
      : p.slot
        ? true
        : p.direction === 'downstream' || p.direction === 'upstream' || !!p.modes?.length

/** The thing with its sockets: what goes in on the left, what comes out on the right, what faces the computer and what
 * takes devices below. A socket of which little is known has a dotted lead. Choosing one opens it. */
export function Face({ gear, go, chosen }: { gear: Gear; go: (port: string) => void; chosen?: string }) {
  const of = (...d: string[]) => (gear.ports ?? []).filter((p) => d.includes(p.direction))
  let left = of('in', 'downstream')
  let right = of('out', 'upstream')
  if (!right.length && left.length > 3) {
    right = left.slice(Math.ceil(left.length / 2))
    left = left.slice(0, Math.ceil(left.length / 2))
  }
  const rows = Math.max(left.length, right.length, 1)
  if (!gear.ports?.length) return null
  const tall = rows * row + 8
  const at = (list: Port[], i: number) => 4 + ((i + 0.5) * rows * row) / list.length
  const side = (list: Port[], isLeft: boolean) =>
    list.map((p, i) => {
      const y = at(list, i)
      const x = isLeft ? 200 : wide - 200
      const end = isLeft ? 176 : wide - 176
      const anchor = isLeft ? 'end' : 'start'
      const tx = isLeft ? 168 : wide - 168
      return (
        <a
          key={p.id}
          href={`#socket-${p.id}`}
          aria-current={p.id === chosen || undefined}
          aria-label={`${p.label || p.id}: ${w.connectors[p.connector] ?? p.connector}, ${w.directions[p.direction]}, ${says(p)}`}
          onClick={(e) => {
            e.preventDefault()
            go(p.id)
          }}
        >
          <rect
            x={isLeft ? 0 : end}
            y={y - row / 2 + 2}
            width={176}
            height={row - 4}
            fill={p.id === chosen ? 'var(--wash)' : 'transparent'}
          />
          <path
            d={`M${x} ${y}H${end}`}
            stroke={known(p) ? 'var(--thread)' : 'var(--untested)'}
            strokeWidth="2"
            strokeLinecap="round"
            strokeDasharray={known(p) ? undefined : '0.1 5'}
          />
          <Opening connector={p.connector} x={x} y={y} />
          <text x={tx} y={y - 3} textAnchor={anchor} className="fill-[var(--ink)] text-[12px] font-semibold">
            {short(p.label || p.id)}
          </text>
          <text x={tx} y={y + 12} textAnchor={anchor} className="fill-[var(--muted)] text-[11px]">
            {[w.connectors[p.connector] ?? p.connector, says(p)].filter(Boolean).join(', ')}
          </text>
        </a>
      )
    })
  return (
    <svg
      viewBox={`${left.length ? 0 : 198} 0 ${wide - (left.length ? 0 : 198) - (right.length ? 0 : 198)} ${tall}`}
      className={`mt-3 w-full ${left.length && right.length ? 'max-w-[40rem]' : 'max-w-[26rem]'}`}
      role="group"
      aria-label={w.face(gear.name)}
      data-testid="face"
    >
      <rect x={200} y={4} width={wide - 400} height={tall - 8} fill="var(--sheet)" stroke="var(--ink)" />
      <text x={wide / 2} y={tall / 2 + 4} textAnchor="middle" className="fill-[var(--muted)] text-[12px]">
        {w.kinds[gear.kind] ?? gear.kind}
      </text>
      {side(left, true)}
      {side(right, false)}
    </svg>
  )
}

/** A label that fits beside a socket; the whole of it stands in its rows and in its name for readers. */
const short = (s: string) => (s.length > 26 ? `${s.slice(0, 25)}…` : s)

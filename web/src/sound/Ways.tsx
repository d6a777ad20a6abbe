import type { Board, Sounding, State } from '../api/client'
import { Rope } from '../parts/Rope'
import { words } from '../words'

const w = words.sound
const [wide, row, step] = [1200, 58, 250]

/** The ways of sound as tethers of their own, from the mouth to the programme, where they meet the pictures. */
export function Ways({ now, sound }: { now: Board; sound: Sounding }) {
  const ways = sound.plan!.paths
  const label = (id: string) => now.rig.items.find((i) => i.id === id)?.label ?? id
  const worst = (ids: string[]): State => {
    const order: State[] = ['snapped', 'kinked', 'untested', 'taut', 'slack']
    const states = sound.limits
      .filter((l) => ids.some((id) => l.id === id || l.id.startsWith(id)))
      .map((l) => l.state)
    return order.find((s) => states.includes(s)) ?? 'slack'
  }
  const end = wide - 150
  const high = ways.length * row + 20
  return (
    <section className="overflow-x-auto" data-testid="ways">
      <p className="text-sm text-muted">{w.waysHelp}</p>
      <svg
        viewBox={`0 0 ${wide} ${high}`}
        className="mt-1 w-full min-w-[640px]"
        role="img"
        aria-label={w.ways}
      >
        {ways.map((p, i) => {
          const y = i * row + 34
          const stops = [p.voice, ...p.items.map(label)]
          const at = (k: number) => 10 + Math.min(step, (end - 40) / stops.length) * k
          const muted = p.on === 'muted'
          const place = `${p.items[0]}:${p.voice}`
          return (
            <g key={p.index} opacity={muted ? 0.4 : 1}>
              {stops.map((name, k) => {
                const next = k + 1 < stops.length ? at(k + 1) : end
                const ids =
                  k === 0
                    ? [`mic-distance:${place}`, `headroom:${place}`]
                    : k + 1 < stops.length
                      ? [
                          `sound-level:${place}>${p.items[k]}`,
                          `one-leg:${place}>${p.items[k]}`,
                          `mic-power:${place}>${p.items[k]}`,
                        ]
                      : [`lip-sync:${place}`, `voice:${p.voice}`, `sound-treated:${place}`]
                return (
                  <g key={k}>
                    {!(muted && k + 1 === stops.length) && (
                      <Rope
                        a={{ x: at(k) + 6, y }}
                        b={{ x: next - 6, y: k + 1 === stops.length ? (ways.length * row) / 2 + 4 : y }}
                        state={muted ? 'slack' : worst(ids)}
                        room={0.5}
                        thin={p.on === 'track'}
                      />
                    )}
                    <circle cx={at(k)} cy={y} r={5} fill="var(--ink)" />
                    <text
                      x={at(k)}
                      y={y - 12}
                      fontSize="15"
                      fill="var(--ink)"
                      fontWeight={k === 0 ? 600 : 400}
                    >
                      {name.length > 26 ? name.slice(0, 25) + '…' : name}
                      <title>{name}</title>
                      {k + 1 === stops.length && (
                        <tspan fontSize="13" fill="var(--muted)">
                          {` · ${w.on[p.on]}${p.proposed ? ` (${w.proposed})` : ''}${muted ? '' : `, ${w.listed(p.listedAs)}`}`}
                        </tspan>
                      )}
                    </text>
                  </g>
                )
              })}
            </g>
          )
        })}
        <circle cx={end} cy={(ways.length * row) / 2 + 4} r={6} fill="var(--ink)" />
        <text x={end + 14} y={(ways.length * row) / 2 + 9} fontSize="15" fill="var(--ink)" fontWeight={600}>
          {w.programme}
        </text>
      </svg>
    </section>
  )
}

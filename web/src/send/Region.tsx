import { scaleLinear, scaleLog } from 'd3-scale'
import type { Sending } from '../api/client'
import { words } from '../words'
import type { Hold } from './hold'

const w = words.send

type RegionOf = Sending['regions'][number]

const wide = 440
const tall = 200
const edge = { left: 46, right: 8, top: 12, bottom: 30 }

/** What can be afforded: bitrate up, size and rate across. It lies above the floor where blocks begin to show, below what the
 * line leaves and what the destination takes, and left of where the computer gives up. */
export function Region({ region: r, hold }: { region: RegionOf; hold?: Hold }) {
  if (!r.spots.length) return null
  const spots = [...r.spots].sort((a, b) => a.mpxS - b.mpxS)
  const ceiling = r.capKbps > 0 ? Math.min(r.capKbps, r.slackKbps) : r.slackKbps
  const most = Math.max(
    ...spots.map((s) => s.highKbps),
    r.nowKbps,
    Math.min(r.sureKbps, 60000),
    r.capKbps,
    1000,
  )
  const x = scaleLog()
    .domain([spots[0]!.mpxS / 1.35, spots[spots.length - 1]!.mpxS * 1.35])
    .range([edge.left, wide - edge.right])
  const y = scaleLinear()
    .domain([0, most * 1.08])
    .range([tall - edge.bottom, edge.top])
    .nice(4)
  const [from, to] = x.domain() as [number, number]
  const floor = (mpx: number) => r.floorKbps * mpx
  const gives = spots.find((s) => s.computer === 'snapped' || s.computer === 'untested')
  const last = gives ? Math.max(from, gives.mpxS / 1.12) : to
  // Along the floor and back under the ceiling, as far as the one is below the other.
  const meet = Math.min(last, Math.max(from, ceiling / r.floorKbps))
  const area = `M${x(from)} ${y(floor(from))}L${x(meet)} ${y(Math.min(floor(meet), ceiling))}L${x(meet)} ${y(ceiling)}L${x(from)} ${y(ceiling)}z`
  const level = (kbps: number, text: string, dash?: string, above = y(kbps)) =>
    kbps > 0 &&
    kbps <= y.domain()[1]! && (
      <g>
        <path
          d={`M${edge.left} ${y(kbps)}H${wide - edge.right}`}
          stroke="var(--ink)"
          strokeWidth="1"
          strokeDasharray={dash}
        />
        <text x={wide - edge.right} y={above - 3} textAnchor="end" className="fill-[var(--ink)] text-[10px]">
          {text}
        </text>
      </g>
    )
  const near = r.capKbps > 0 && Math.abs(y(r.capKbps) - y(r.slackKbps)) < 12
  return (
    <figure className="min-w-0" data-testid="region">
      <svg
        viewBox={`0 0 ${wide} ${tall}`}
        className="w-full"
        role="group"
        aria-label={w.region(r.destination)}
      >
        {ceiling > floor(from) && <path d={area} fill="var(--slack)" opacity="0.16" />}
        {y.ticks(4).map((t) => (
          <g key={t}>
            <path d={`M${edge.left - 3} ${y(t)}h3`} stroke="var(--muted)" />
            <text
              x={edge.left - 5}
              y={y(t) + 3}
              textAnchor="end"
              className="fill-[var(--muted)] text-[10px] tabular-nums"
            >
              {t >= 1000 ? `${t / 1000}k` : t}
            </text>
          </g>
        ))}
        <path
          d={`M${edge.left} ${edge.top}V${tall - edge.bottom}H${wide - edge.right}`}
          fill="none"
          stroke="var(--muted)"
        />
        <path
          d={`M${x(from)} ${y(floor(from))}${spots.map((s) => `L${x(s.mpxS)} ${y(floor(s.mpxS))}`).join('')}L${x(to)} ${y(Math.min(floor(to), y.domain()[1]!))}`}
          fill="none"
          stroke="var(--kinked)"
          strokeWidth="1.2"
        />
        {level(r.slackKbps, near ? '' : w.lineLeaves)}
        {level(r.sureKbps, w.lineCarries, '2 3')}
        {level(
          r.capKbps,
          near ? w.capAndLine : w.cap,
          '6 2',
          near ? Math.min(y(r.capKbps), y(r.slackKbps)) : undefined,
        )}
        {gives && (
          <g>
            <path
              d={`M${x(last)} ${edge.top}V${tall - edge.bottom}`}
              stroke="var(--snapped)"
              strokeDasharray="3 2"
            />
            <text x={x(last) + 3} y={edge.top + 8} className="fill-[var(--snapped)] text-[10px]">
              {w.computerEdge}
            </text>
          </g>
        )}
        {spots.map((s, i) => {
          const fits = s.takes && s.fits === 'slack' && s.computer !== 'snapped'
          const name = w.spot(s.label, s.lowKbps, s.highKbps, s.takes, s.fits, s.computer)
          const choose = () =>
            hold &&
            s.takes &&
            hold(`send:${r.destination}`, { edits: s.edits, what: w.sendAt(s.label, r.destination) })
          return (
            <g
              key={s.label}
              role="button"
              tabIndex={0}
              aria-label={name}
              aria-disabled={!hold || !s.takes}
              className="cursor-pointer"
              onClick={choose}
              onKeyDown={(e) => {
                if (e.key === 'Enter' || e.key === ' ') {
                  e.preventDefault()
                  choose()
                }
              }}
            >
              <title>{name}</title>
              <rect
                x={x(s.mpxS) - 12}
                y={edge.top}
                width="24"
                height={tall - edge.top - 4}
                fill="transparent"
              />
              <path
                d={`M${x(s.mpxS)} ${y(s.lowKbps)}V${Math.min(y(s.lowKbps) - 4, y(s.highKbps))}`}
                stroke={fits ? 'var(--slack)' : s.takes ? 'var(--taut)' : 'var(--twist)'}
                strokeWidth={s.takes ? 6 : 2}
              />
              <text
                x={x(s.mpxS)}
                y={tall - edge.bottom + (i % 2 ? 24 : 13)}
                textAnchor="middle"
                className={`text-[10px] ${s.now ? 'fill-[var(--ink)] font-bold' : 'fill-[var(--muted)]'}`}
              >
                {s.label}
              </text>
            </g>
          )
        })}
        <circle
          cx={x(Math.min(to, Math.max(from, r.nowMpxS)))}
          cy={y(r.nowKbps)}
          r="5.5"
          fill="var(--sheet)"
          stroke="var(--ink)"
          strokeWidth="2.5"
        >
          <title>{w.youAreHere(r.nowKbps)}</title>
        </circle>
      </svg>
      <figcaption className="text-xs text-muted">{w.regionHelp}</figcaption>
    </figure>
  )
}

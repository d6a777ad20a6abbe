import { memo } from 'react'
import type { Limit } from '../api/client'
import { ListSection } from '../parts/ListSection'
import { Rope } from '../parts/Rope'
import { StateWord } from '../parts/StateWord'
import { words } from '../words'

/** What several lines hang on, drawn as lines too: each load is a bead on it. What holds is one folded line. */
export const SharedLimits = memo(function SharedLimits({ limits }: { limits: Limit[] }) {
  const shared = limits.filter((l) => l.shared)
  const open = shared.filter((l) => l.state !== 'slack')
  const holds = shared.filter((l) => l.state === 'slack')
  if (!shared.length) return null
  return (
    <ListSection id="shared" title={words.board.shared} help={words.board.sharedHelp}>
      {open.map((l) => (
        <SharedLimit key={l.id} limit={l} />
      ))}
      {holds.length > 0 && (
        <li>
          <details>
            <summary className="cursor-pointer py-2 text-slack">{words.board.hold(holds.length)}</summary>
            <ul>
              {holds.map((l) => (
                <SharedLimit key={l.id} limit={l} />
              ))}
            </ul>
          </details>
        </li>
      )}
    </ListSection>
  )
})

function SharedLimit({ limit: l }: { limit: Limit }) {
  return (
    <li
      className="grid grid-cols-[minmax(0,1fr)_176px] items-center gap-4 border-b border-hair py-2"
      data-limit={l.id}
      data-state={l.state}
    >
      <div className="min-w-0">
        <p className="truncate font-semibold" title={l.what}>
          {l.what}
        </p>
        <p className="text-[13px] leading-4 text-muted">
          <StateWord state={l.state} /> {l.share && <span>{l.share} · </span>}
          {l.says}
        </p>
      </div>
      <BeadLine limit={l} />
    </li>
  )
}

const from = 6
const to = 170
const y = 10

/** Beads as wide as their share of the limit, from the left peg on. */
export function BeadLine({ limit: l }: { limit: Limit }) {
  const whole = l.sense === 'fits' ? 0 : Math.max(l.load.value, l.sure)
  const wide = l.loads.map((ld) => (whole ? (ld.value / whole) * (to - from) : 0))
  return (
    <svg width="176" height="40" viewBox="0 0 176 40" aria-hidden="true">
      <Rope
        a={{ x: from, y }}
        b={{ x: to, y }}
        state={l.state}
        room={l.share ? Math.max(0, 1 - l.ratio.high) : 1}
      />
      {l.sense === 'at-most' &&
        wide.map((width, i) => {
          const x = from + wide.slice(0, i).reduce((a, b) => a + b, 0)
          return (
            <rect
              key={i}
              x={x + 1}
              y={30}
              width={Math.max(1, width - 2)}
              height={6}
              rx={2}
              fill={`var(--${l.state})`}
              opacity={i % 2 ? 0.55 : 0.85}
            >
              <title>{l.loads[i]!.label}</title>
            </rect>
          )
        })}
      {l.sense === 'at-most' && whole > 0 && (
        <path d={`M${from + (l.sure / whole) * (to - from)} 27v12`} stroke="var(--ink)" strokeWidth="1.5" />
      )}
      <circle cx={from - 1} cy={y} r="3.5" fill="var(--ink)" />
      <circle cx={to + 1} cy={y} r="3.5" fill="var(--ink)" />
    </svg>
  )
}

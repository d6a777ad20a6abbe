import type { Battery, PowerPlan } from '../api/client'
import { StateWord } from '../parts/StateWord'
import { words } from '../words'

const w = words.power

/** The clock of the show from left to right; every battery is a line that ends where it ends. */
export function Clock({ plan }: { plan: PowerPlan }) {
  const whole = plan.total * 1.12 || 1
  const at = (minutes: number) => `${Math.min(100, (minutes / whole) * 100)}%`
  return (
    <div className="mt-3 grid grid-cols-[minmax(7rem,14rem)_minmax(0,1fr)] text-sm" data-testid="clock">
      <div />
      <div className="relative h-9">
        {plan.phases.map((p) => (
          <div
            key={p.name}
            className="absolute top-0 h-full overflow-hidden border-l border-ink pl-1 text-xs leading-4"
            style={{ left: at(p.from), width: at(p.to - p.from) }}
          >
            <span className="block truncate font-semibold" title={p.name}>
              {p.name}
            </span>
            <span className="text-muted">
              {Math.round(p.to - p.from)} {w.minutes}
            </span>
          </div>
        ))}
        <div
          className="absolute top-0 h-full border-l-2 border-ink pl-1 text-xs"
          style={{ left: at(plan.total) }}
        >
          <b>{Math.round(plan.total)}</b> {w.minutes}
        </div>
      </div>
      {plan.batteries.map((b) => (
        <Lasts key={b.item} battery={b} plan={plan} at={at} />
      ))}
    </div>
  )
}

function Lasts({ battery: b, plan, at }: { battery: Battery; plan: PowerPlan; at: (m: number) => string }) {
  const colour = `var(--${b.state})`
  return (
    <>
      <div className="border-t border-hair py-2 pr-3">
        <b className="block leading-4 break-words">{b.label}</b>
        <StateWord state={b.state} />
      </div>
      <div className="relative min-h-14 border-t border-hair" data-lasts={b.item}>
        {plan.phases.map((p) => (
          <div
            key={p.name}
            className="absolute top-0 h-full border-l border-hair"
            style={{ left: at(p.from) }}
          />
        ))}
        <div className="absolute top-0 h-full border-l-2 border-ink" style={{ left: at(plan.total) }} />
        <svg
          className="absolute top-2 left-0 h-4"
          style={{ width: at(b.low) }}
          viewBox="0 0 100 16"
          preserveAspectRatio="none"
          aria-hidden="true"
        >
          <path
            d={b.state === 'slack' ? 'M0 3Q50 22 100 3' : 'M0 6H100'}
            fill="none"
            stroke={colour}
            strokeWidth="3"
            vectorEffect="non-scaling-stroke"
          />
        </svg>
        {b.high > b.low && (
          <div
            className="absolute top-[13px] border-t-[3px] border-dotted"
            style={{ left: at(b.low), right: `calc(100% - ${at(b.high)})`, borderColor: colour }}
          />
        )}
        <p className="relative pt-7 pb-1 pl-1 text-[13px] leading-4 text-muted">
          <span className="bg-paper">{b.says}</span>
        </p>
      </div>
    </>
  )
}

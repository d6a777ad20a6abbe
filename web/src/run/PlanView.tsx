import { scaleLinear } from 'd3-scale'
import type { RunPlan, RunSheet } from '../api/client'
import { words } from '../words'
import { clock } from './clock'

const w = words.run
const [wide, row, left] = [1000, 26, 84]

/** Who does what when: a line of steps for each person, and one for what goes by itself. */
export function PlanView({ sheet, plan, air }: { sheet: RunSheet; plan: RunPlan; air: Date }) {
  const x = scaleLinear().domain([0, plan.start]).range([left, wide])
  const alone = plan.turns.some((t) => t.who.length === 0)
  const rows = plan.people + (alone ? 1 : 0)
  const high = rows * row + 22
  const title = (id: string) => sheet.steps.find((s) => s.id === id)?.do ?? id
  return (
    <figure className="max-sm:hidden print:hidden">
      <figcaption className="text-sm text-muted">{w.planHelp}</figcaption>
      <svg viewBox={`0 0 ${wide} ${high}`} className="mt-1 w-full" role="img" aria-label={w.plan}>
        {x.ticks(8).map((t) => (
          <g key={t}>
            <line x1={x(t)} x2={x(t)} y1={0} y2={rows * row} stroke="var(--hair)" />
            {!Number.isNaN(air.getTime()) && x(t) < wide - 20 && (
              <text x={x(t)} y={high - 6} fontSize="12" textAnchor="middle" fill="var(--muted)">
                {clock(air, plan.start - t)}
              </text>
            )}
          </g>
        ))}
        {Array.from({ length: rows }, (_, i) => (
          <text key={i} x={0} y={i * row + 17} fontSize="13" fill="var(--ink)">
            {i < plan.people ? w.person(i + 1) : w.itself}
          </text>
        ))}
        {plan.turns.flatMap((t) =>
          (t.who.length ? t.who : [plan.people + 1]).map((who) => (
            <rect
              key={t.step + who}
              x={x(t.start) + 1}
              width={Math.max(2, x(t.end) - x(t.start) - 2)}
              y={(who - 1) * row + 6}
              height={row - 10}
              rx={2}
              fill={t.critical ? 'var(--ink)' : 'var(--twist)'}
            >
              <title>{`${clock(air, plan.start - t.start)} ${title(t.step)}`}</title>
            </rect>
          )),
        )}
        <line
          x1={x(plan.minutes)}
          x2={x(plan.minutes)}
          y1={0}
          y2={rows * row}
          stroke="var(--taut)"
          strokeDasharray="3 3"
        />
      </svg>
    </figure>
  )
}

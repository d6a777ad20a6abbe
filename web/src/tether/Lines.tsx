import type { Verdict } from '../api/client'
import { Rope } from '../parts/Rope'
import { plugOf } from './hops'
import type { Plan } from './layout'

/** How far a line runs from the programme while it turns to its height. */
export const outRun = 36
export function Lines({ plan: p, verdict, hide }: { plan: Plan; verdict: Verdict; hide?: string }) {
  return (
    <>
      {p.outs.map((o, i) => {
        const out = verdict.outs[i]!
        // It turns to its own height at once, so that it passes beside the words of the others.
        const from = { x: p.ring.x + 11, y: p.ring.y + (o.y > p.ring.y ? 4 : o.y < p.ring.y ? -4 : 0) }
        const turned = { x: from.x + outRun, y: o.y }
        return (
          <g key={`out${i}`}>
            <path
              className="rope"
              strokeWidth={out.judged ? 2 : 1.2}
              d={`M${from.x} ${from.y}C${from.x + outRun * 0.7} ${from.y} ${turned.x - outRun * 0.7} ${turned.y} ${turned.x} ${turned.y}`}
            />
            <Rope a={turned} b={o} state={out.state} room={out.room} thin={!out.judged} />
          </g>
        )
      })}
      {p.ends.map((e) => (
        <path
          key={`end${e.feed}`}
          className="rope"
          strokeWidth="2"
          d={`M${e.from.x} ${e.from.y}C${e.from.x + 26} ${e.from.y} ${p.ring.x - 34} ${p.ring.y} ${p.ring.x - 11} ${p.ring.y}`}
        />
      ))}
      {p.spans.map((s) =>
        hide && plugOf(s.hop) === hide ? null : (
          <g key={s.key}>
            <Rope a={s.a} b={s.b} state={s.hop.state} room={s.hop.room} />
            {s.elbow && (
              <path
                className="rope"
                strokeWidth="2"
                d={`M${s.elbow[0].x} ${s.elbow[0].y}C${s.elbow[0].x + 26} ${s.elbow[0].y} ${s.elbow[1].x - 26} ${s.elbow[1].y} ${s.elbow[1].x} ${s.elbow[1].y}`}
              />
            )}
          </g>
        ),
      )}
    </>
  )
}

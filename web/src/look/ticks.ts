import type { Op, RunSheet } from '../api/client'
import type { Preflight } from './useDevices'

type Tick = Pick<Op, 'kind' | 'step'>

/** What a look at everything says of the steps of a run sheet: which are done, and which failed. Steps that are ticked stay. */
export function ticksOf(steps: RunSheet['steps'], ticked: (step: string) => boolean, p: Preflight): Tick[] {
  const answer = new Map(p.rows.map((r) => [r.of, r.passes.answer]))
  return steps.flatMap((s): Tick[] => {
    const looks = s.looks ?? []
    if (looks.length === 0 || ticked(s.id)) return []
    const all = looks.map((l) => answer.get(l))
    if (all.includes('clear')) return [{ kind: 'fail', step: s.id }]
    return all.every((a) => a === 'found') ? [{ kind: 'tick', step: s.id }] : []
  })
}

/** What a run sheet wants looked at, in its order. */
export const orderOf = (steps: RunSheet['steps']) => steps.flatMap((s) => s.looks ?? [])

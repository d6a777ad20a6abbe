import type { State } from '../api/client'
import { words } from '../words'

const colours: Record<State, string> = {
  slack: 'text-slack',
  taut: 'text-taut',
  kinked: 'text-kinked',
  snapped: 'text-snapped',
  untested: 'text-untested',
}

/** A state in its word and colour; the shape stands beside it. */
export function StateWord({ state }: { state: State }) {
  return (
    <span className={`${colours[state]} font-semibold`} title={words.stateMeans[state]}>
      {words.states[state]}
    </span>
  )
}

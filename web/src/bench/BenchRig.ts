import { createContext, useContext } from 'react'
import type { Rig } from '../api/client'

/** What acts begin from, and the order they are done in, however quick the hand is. */
export type BenchHands = {
  /** The rig with everything that is held, once that has been tried. */
  whole: () => Promise<Rig>
  /** Does an act after those begun before it; what is kept is kept after it. */
  inTurn: <T>(act: () => Promise<T>) => Promise<T>
}

export const BenchRig = createContext<BenchHands | undefined>(undefined)

/** Those of the bench around it; where there is none, acts begin from the rig that is given. */
export function useBenchHands(given: Rig): BenchHands {
  const bench = useContext(BenchRig)
  return bench ?? { whole: () => Promise.resolve(given), inTurn: (act) => act() }
}

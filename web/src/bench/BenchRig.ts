import { createContext, useContext } from 'react'
import type { Rig } from '../api/client'

/** The rig with everything that is held, once that has been tried: an act begins from it, however quick the hand is. */
export const BenchRig = createContext<(() => Promise<Rig>) | undefined>(undefined)

/** The rig an act is to begin from: with what is held where a bench is around it, else the one given. */
export function useBenchRig(given: Rig): () => Promise<Rig> {
  const held = useContext(BenchRig)
  return held ?? (() => Promise.resolve(given))
}

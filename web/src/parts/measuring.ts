import { useQuery } from '@tanstack/react-query'
import { api, type Board } from '../api/client'
import { keys } from '../api/keys'

export type Measured = NonNullable<Awaited<ReturnType<typeof api.measured>>['result']>

/** How far measuring this computer has come, and what it found. */
export const useMeasuring = ({ enabled = true, awaited = false } = {}) =>
  useQuery({
    queryKey: keys.measuring,
    queryFn: () => api.measured(),
    refetchInterval: (q) => {
      const at = q.state.data
      return at?.running || (awaited && !at?.result && !at?.failed) ? 400 : false
    },
    staleTime: 0,
    enabled,
  })

const begun = 'measured-for'

/** Measures this computer for a rig that begins on it; where it is being measured already, that is as good. */
export function measureHere(b: Board) {
  sessionStorage.setItem(begun, b.id)
  const p = b.rig.show.programme
  void api.measure({ width: p.width, height: p.height, rate: p.rate }).catch(() => undefined)
}

/** Whether this computer was measured for a rig, and nobody has taken or left the result yet. */
export const measuredFor = (id: string) => sessionStorage.getItem(begun) === id

export const measuredDone = () => sessionStorage.removeItem(begun)

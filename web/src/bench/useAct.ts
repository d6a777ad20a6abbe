import { useMutation } from '@tanstack/react-query'
import { api, type Act, type Failure, type Rig } from '../api/client'
import type { Change } from '../parts/change'
import { useBenchHands } from './BenchRig'

/** Does acts to a rig as it is drawn: what comes of one is held. */
export function useAct(rig: Rig, add: (c: Change) => void) {
  const { whole, inTurn } = useBenchHands(rig)
  const act = useMutation({
    mutationFn: (a: Act) =>
      inTurn(async () => {
        const done = await api.act(await whole(), a)
        if (done.edits.length) add({ edits: done.edits, what: done.what, notes: done.notes })
      }),
  })
  return { do: act.mutate, busy: act.isPending, error: act.error as Failure | null, forget: act.reset }
}

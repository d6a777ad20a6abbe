import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Op } from '../api/client'
import { keys } from '../api/keys'
import { newID } from '../night/queue'
import { TickButton } from './TickButton'
import type { Preflight } from './useDevices'

/** How long after it was to begin a show that is not over is still offered, in milliseconds. */
const still = 12 * 3_600_000

/** The shows of a rig that are still to come: what was looked at can tick their steps. */
export function TickNights({ rig, preflight }: { rig: string; preflight: Preflight }) {
  const [since] = useState(() => Date.now() - still)
  const log = useQuery({ queryKey: [...keys.log(), rig], queryFn: () => api.log(rig) })
  const coming = (log.data?.nights ?? []).filter(
    (n) => n.minutes === 0 && new Date(n.airAt).getTime() > since,
  )
  return coming.map((n) => <OneNight key={n.id} id={n.id} preflight={preflight} />)
}

function OneNight({ id, preflight }: { id: string; preflight: Preflight }) {
  const { data: e } = useQuery({ queryKey: keys.night(id), queryFn: () => api.night(id) })
  if (!e?.sheet || e.standing.endAt) return null
  const add = (op: Pick<Op, 'kind' | 'step' | 'text'>) =>
    api.addOps(id, [{ ...op, id: newID(), at: Date.now() }], e.seq)
  const on = new Date(e.airAt).toLocaleDateString('en-GB', { day: 'numeric', month: 'long' })
  return (
    <TickButton
      steps={e.sheet.steps}
      ticks={e.standing.ticks}
      preflight={preflight}
      add={add}
      night={`${e.name}, ${on}`}
    />
  )
}

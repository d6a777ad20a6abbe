import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Failure, type Night } from '../api/client'
import { keys } from '../api/keys'
import { Devices } from '../look/Devices'
import { goesOn, mayOpen } from '../look/device'
import { TickButton } from '../look/TickButton'
import { orderOf } from '../look/ticks'
import { Problems } from '../parts/Frame'
import { words } from '../words'
import type { Add } from './useNight'

const w = words.night

/** The devices of this computer looked at in the run sheet's order; what they show is ticked. Opened when it is wanted. */
export function Preflight({ now: e, add }: { now: Night; add: Add }) {
  const [open, setOpen] = useState(goesOn)
  const choices = useQuery({
    queryKey: keys.lookedOf(e.rigId, 0),
    queryFn: () => api.lookedOf(e.rigId),
    enabled: open,
  })
  const steps = e.sheet?.steps ?? []
  if (orderOf(steps).length === 0 || !mayOpen()) return null // a phone at the door has nothing to look at
  return (
    <details
      open={open}
      className="mt-5 border-y border-hair py-2"
      onToggle={(x) => setOpen(x.currentTarget.open)}
    >
      <summary className="cursor-pointer">{w.preflight}</summary>
      {open && (
        <>
          <p className="my-2 max-w-2xl text-sm text-muted">{w.preflightHelp}</p>
          {choices.error && <Problems error={choices.error as Failure} />}
          <Devices
            rig={{ id: e.rigId }}
            choices={choices.data ?? []}
            order={orderOf(steps)}
            then={(p) => <TickButton steps={steps} ticks={e.standing.ticks} preflight={p} add={add} />}
          />
        </>
      )}
    </details>
  )
}

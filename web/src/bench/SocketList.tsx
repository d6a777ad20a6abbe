import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Failure, type Item, type Rig } from '../api/client'
import { keys } from '../api/keys'
import type { Change } from '../parts/change'
import { Problems } from '../parts/Frame'
import { words } from '../words'
import { portName, type Socket } from './sockets'
import { useAct } from './useAct'

const w = words.bench

/** The sockets of a thing: what is in each, and where a lead from a free one goes. */
export function SocketList({
  rig,
  item,
  sockets,
  add,
}: {
  rig: Rig
  item: Item
  sockets: Socket[]
  add: (c: Change) => void
}) {
  const [picked, setPicked] = useState<string>()
  if (!sockets.length) return null
  return (
    <div className="mt-3">
      <h4 className="text-sm text-muted">{w.sockets}</h4>
      <ul className="text-sm">
        {sockets.map((s) => (
          <li key={s.ref} className="border-b border-hair py-1" data-socket={s.ref}>
            <span className="flex flex-wrap items-baseline gap-x-2">
              <Plug taken={!!s.lead} />
              <span className="font-semibold">{portName(s.port)}</span>
              <span className="text-xs text-muted">{w.way(s.port.connector, s.port.direction)}</span>
              {s.lead ? (
                <>
                  <span className="min-w-0 break-words">{w.to(s.other?.label, s.other?.socket)}</span>
                  <button
                    className="quiet ml-auto"
                    onClick={() =>
                      add({
                        edits: [{ do: 'unplug', lead: s.lead!.id }],
                        what: w.unplugged(item.label, portName(s.port)),
                      })
                    }
                  >
                    {w.unplug}
                  </button>
                </>
              ) : (
                <button
                  className="quiet ml-auto"
                  aria-expanded={picked === s.ref}
                  onClick={() => setPicked(picked === s.ref ? undefined : s.ref)}
                >
                  {picked === s.ref ? w.putDown : w.pickUp}
                </button>
              )}
            </span>
            {picked === s.ref && (
              <Targets rig={rig} socket={s.ref} add={add} done={() => setPicked(undefined)} />
            )}
          </li>
        ))}
      </ul>
    </div>
  )
}

/** A socket: filled where a plug is in it. */
export function Plug({ taken }: { taken: boolean }) {
  return (
    <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true" className="shrink-0 self-center">
      <circle
        cx="7"
        cy="7"
        r="5"
        fill={taken ? 'var(--ink)' : 'var(--paper)'}
        stroke="var(--ink)"
        strokeWidth="1.5"
      />
    </svg>
  )
}

/** Where the lead in the hand goes: what fits, and what does not with why. */
function Targets({
  rig,
  socket,
  add,
  done,
}: {
  rig: Rig
  socket: string
  add: (c: Change) => void
  done: () => void
}) {
  const act = useAct(rig, (c) => {
    add(c)
    done()
  })
  const fits = useQuery({
    queryKey: keys.fits(rig, socket),
    queryFn: () => api.fits(rig, socket),
    staleTime: Infinity,
  })
  const list = fits.data ?? []
  const yes = list.filter((f) => f.fits)
  const no = list.filter((f) => !f.fits)
  return (
    <div className="my-1 border-l-2 border-ink pl-3" data-testid="targets">
      {fits.error && <Problems error={fits.error as Failure} />}
      {act.error && <Problems error={act.error} />}
      {fits.data && yes.length === 0 && <p className="text-muted">{w.nowhere}</p>}
      {yes.map((f) => (
        <p key={f.socket}>
          <button
            className="quiet"
            disabled={act.busy}
            onClick={() => act.do({ do: 'connect', at: socket, to: f.socket })}
          >
            {f.label}, {f.name}
          </button>
        </p>
      ))}
      {no.length > 0 && (
        <details>
          <summary className="cursor-pointer text-muted">{w.doNotFit(no.length)}</summary>
          {no.map((f) => (
            <p key={f.socket} className="text-xs text-muted">
              {f.label}, {f.name}: {f.why}
            </p>
          ))}
        </details>
      )}
    </div>
  )
}

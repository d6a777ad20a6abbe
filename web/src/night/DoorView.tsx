import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { QRCodeSVG } from 'qrcode.react'
import { api, type Failure } from '../api/client'
import { keys } from '../api/keys'
import { Problems } from '../parts/Frame'
import { words } from '../words'

const w = words.night

/** The door for phones: closed until somebody opens it, with a code that ends by itself. */
export function DoorView({ night }: { night: string }) {
  const queries = useQueryClient()
  const key = keys.door(night)
  const { data } = useQuery({ queryKey: key, queryFn: () => api.door(night), refetchInterval: 5_000 })
  const settle = { onSuccess: (d: unknown) => queries.setQueryData(key, d) }
  const open = useMutation({ mutationFn: () => api.openDoor(night), ...settle })
  const shut = useMutation({ mutationFn: () => api.shutDoor(night), ...settle })
  if (!data) return null
  return (
    <section className="mt-8" data-testid="door">
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.door}</h2>
      {(open.error || shut.error) && <Problems error={(open.error ?? shut.error) as Failure} />}
      {!data.open ? (
        <p className="mt-2 flex flex-wrap items-center gap-4">
          <span className="min-w-0 flex-1">{w.doorClosed}</span>
          <button className="act" disabled={open.isPending} onClick={() => open.mutate()}>
            {w.letIn}
          </button>
        </p>
      ) : (
        <div className="mt-2 flex flex-wrap gap-6">
          <div className="min-w-0 flex-1 space-y-2">
            {data.addresses.length === 0 && <p>{w.noAddress}</p>}
            {data.code ? (
              <>
                <p>{w.open}</p>
                {data.addresses.map((a) => (
                  <p key={a} className="text-lg font-semibold break-all">
                    {a}
                  </p>
                ))}
                <p>
                  <span className="text-4xl font-semibold tracking-widest tabular-nums" data-testid="code">
                    {data.code}
                  </span>{' '}
                  <span className="text-muted">
                    {w.until(
                      new Date(data.codeUntil!).toLocaleTimeString('en-GB', {
                        hour: '2-digit',
                        minute: '2-digit',
                      }),
                    )}
                  </span>
                </p>
              </>
            ) : (
              <p role="alert" className={data.locked ? 'text-snapped' : ''}>
                {data.locked ? w.locked(data.wrong) : w.ranOut}
              </p>
            )}
            {data.phones > 0 && <p>{w.phones(data.phones)}</p>}
            <p className="flex flex-wrap gap-4">
              <button className="act" onClick={() => open.mutate()}>
                {w.again}
              </button>
              <button className="act" onClick={() => shut.mutate()}>
                {w.shut}
              </button>
            </p>
          </div>
          {data.code && data.addresses[0] && (
            <QRCodeSVG value={data.addresses[0]} size={160} marginSize={2} title={data.addresses[0]} />
          )}
        </div>
      )}
    </section>
  )
}

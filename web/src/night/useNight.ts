import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState } from 'react'
import { api, Failure, type Evening, type Op } from '../api/client'
import { keys } from '../api/keys'
import { forget, newID, queue, queued } from './queue'

const again = 2000

/**
 * A night as it stands, with what waits in this device laid over it. Whatever is added is kept here first, then sent; others'
 * come in as they are told of.
 */
export function useNight(id: string, who: string) {
  const queries = useQueryClient()
  const night = useQuery({
    queryKey: keys.night(id),
    queryFn: () => api.night(id),
    retry: (_, e) => e instanceof Failure && e.away,
    retryDelay: again,
    refetchInterval: 30_000,
  })
  const [waiting, setWaiting] = useState<Op[]>([])
  const [refused, setRefused] = useState<Failure>()
  const [stripped, setStripped] = useState(false)
  const sending = useRef(false)
  const settle = useCallback(
    (e: Evening) => {
      const was = queries.getQueryData<Evening>(keys.night(id))
      if (!was || e.seq >= was.seq) queries.setQueryData(keys.night(id), e)
      void queries.invalidateQueries({ queryKey: keys.log() })
    },
    [queries, id],
  )
  const flush = useCallback(async () => {
    if (sending.current) return
    sending.current = true
    try {
      for (let ops = await queued(id); ops.length > 0; ops = await queued(id)) {
        setWaiting(ops)
        const some = ops.slice(0, 500)
        try {
          const e = await api.addOps(id, some)
          if (e.stripped) setStripped(true)
          settle(e)
        } catch (e) {
          if (!(e instanceof Failure) || e.away || e.status === 504 || e.status >= 500) return // it waits
          setRefused(e)
          return
        }
        await forget(id, some)
      }
      setWaiting([])
      setRefused(undefined)
    } finally {
      sending.current = false
    }
  }, [id, settle])

  useEffect(() => {
    const timer = setInterval(() => void flush(), again)
    window.addEventListener('online', flush)
    void flush()
    return () => {
      clearInterval(timer)
      window.removeEventListener('online', flush)
    }
  }, [flush])

  useEffect(() => {
    // The page itself at hand without a connection: only where a browser trusts the address.
    if (window.isSecureContext && 'serviceWorker' in navigator)
      void navigator.serviceWorker.register('/sw.js').catch(() => undefined)
  }, [])

  useEffect(() => {
    const events = new EventSource(`/api/nights/${id}/events`)
    events.addEventListener('added', (m) => {
      const { seq } = JSON.parse(m.data as string) as { seq: number }
      if (seq > (queries.getQueryData<Evening>(keys.night(id))?.seq ?? -1))
        void queries.invalidateQueries({ queryKey: keys.night(id) })
    })
    return () => events.close()
  }, [id, queries])

  const add = useCallback(
    async (op: Omit<Op, 'id' | 'at' | 'who'> & { at?: number }) => {
      const whole = { ...op, id: newID(), at: op.at ?? Date.now(), who } as Op
      setWaiting((was) => [...was, whole])
      await queue(id, whole)
      void flush()
      return whole.id
    },
    [id, who, flush],
  )
  return { night, waiting, refused, stripped, add }
}

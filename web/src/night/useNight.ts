import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState } from 'react'
import { api, Failure, type Changed, type Night, type Op } from '../api/client'
import { keys } from '../api/keys'
import { follow } from './follow'
import { cutKeys } from './keys'
import { merge } from './merge'
import { some } from './batch'
import {
  forget,
  kept,
  type Logged,
  logged,
  loggedOps,
  newID,
  queue,
  queued,
  type Refused,
  refusedOps,
  setApart,
  takeBack,
} from './queue'
import { fieldOf, texts } from './texts'

const again = 2000

/** How long a show has to stand still before it is kept for a reload, in milliseconds. */
const calm = 1000

/** Whether a show is kept for a page that is opened without a connection: where its worker runs. */
const keepsForReload = () => 'caches' in window && !!navigator.serviceWorker?.controller

/** Where public/sw.js keeps a show for a page that is opened without a connection. */
async function keep(id: string, text: string) {
  const cache = await caches.open('eventether-night-2')
  await cache.put(
    `/api/nights/${id}`,
    new Response(text, { headers: { 'Content-Type': 'application/json' } }),
  )
}

/** Something that was taken out of a text because it looks like a stream key. It is in this page only, and gone with it. */
export type Cut = { id: string; words: string[]; whole: Op }

export type Add = (op: Omit<Op, 'id' | 'at' | 'who'> & { at?: number }) => Promise<string>

/**
 * A night as it stands, with what waits in this device. Whatever is added is kept here first, then sent; what the log will not take
 * is put apart, with why, and holds up nothing; others' come in as they are told of.
 */
export function useNight(id: string, who: string) {
  const queries = useQueryClient()
  const night = useQuery({
    queryKey: keys.night(id),
    // What has become of it since, where it is known already: a long show is not asked for whole again.
    queryFn: async () => {
      const was = queries.getQueryData<Night>(keys.night(id))
      if (!was) return api.night(id)
      const since = await api.nightChanges(id, was.seq)
      return merge(queries.getQueryData<Night>(keys.night(id)) ?? was, since)
    },
    retry: (_, e) => e instanceof Failure && e.away,
    retryDelay: again,
    refetchInterval: 30_000,
  })
  const [waiting, setWaiting] = useState<Op[]>([])
  const [refused, setRefused] = useState<Refused[]>([])
  const [failure, setFailure] = useState<Failure>()
  const [cuts, setCuts] = useState<Cut[]>([])
  const sending = useRef(false)
  const read = useRef(false) // what was put apart before, once
  const [sent, setSent] = useState<Logged[]>([]) // in the log, and maybe not in what was kept for a reload

  const known = useCallback(() => queries.getQueryData<Night>(keys.night(id)), [queries, id])
  const settle = useCallback(
    (c: Changed) => {
      const was = known()
      if (was) queries.setQueryData(keys.night(id), merge(was, c))
      void queries.invalidateQueries({ queryKey: keys.log() })
    },
    [queries, id, known],
  )
  const readRefused = useCallback(async () => setRefused(await refusedOps(id)), [id])

  const flush = useCallback(async () => {
    if (sending.current) return
    sending.current = true
    let single = false // a whole batch was refused: one by one, so that only what is wrong stays
    try {
      for (let ops = await queued(id); ops.length > 0; ops = await queued(id)) {
        setWaiting(ops)
        const now = single ? ops.slice(0, 1) : some(ops)
        try {
          const c = await api.addOps(id, now, known()?.seq)
          settle(c)
          for (const r of c.refused) {
            const op = now.find((o) => o.id === r.id)
            if (op) await setApart(id, { op, why: r.why, field: r.field })
          }
          if (keepsForReload()) {
            const taken = now.filter((o) => !c.refused.some((r) => r.id === o.id))
            await logged(id, taken, c.seq)
          }
        } catch (e) {
          if (!(e instanceof Failure) || e.away || e.status >= 500) return // it waits
          if (![400, 413, 422].includes(e.status)) {
            setFailure(e) // not the operation: the show is gone, or full, or the door shut
            return
          }
          if (now.length > 1) {
            single = true
            continue
          }
          await setApart(id, { op: now[0]!, why: e.message })
        }
        await forget(id, now)
        await readRefused()
      }
      setWaiting([])
      setFailure(undefined)
      if (!read.current) await readRefused()
      read.current = true
    } finally {
      sending.current = false
    }
  }, [id, settle, known, readRefused])

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
    // What was sent just before a reload: without a connection, what was kept may be older.
    void loggedOps(id).then(setSent)
  }, [id])

  useEffect(() => {
    // The page itself at hand without a connection: only where a browser trusts the address.
    if (window.isSecureContext && 'serviceWorker' in navigator)
      void navigator.serviceWorker.register('/sw.js').catch(() => undefined)
  }, [])

  useEffect(() => {
    // As it stands, for a reload without a connection: what came in since the page was loaded is in it.
    if (!night.data || !keepsForReload()) return
    const later = setTimeout(() => {
      const now = known() ?? night.data
      void keep(id, JSON.stringify(now))
        .then(() => kept(id, now.seq))
        .catch(() => undefined) // there is no room: it is in the log all the same
    }, calm)
    return () => clearTimeout(later)
  }, [id, night.data, known])

  useEffect(() => {
    const events = new EventSource(`/api/nights/${id}/events`)
    const heard = follow(
      () => known()?.seq,
      (since) =>
        api
          .nightChanges(id, since)
          .then(settle)
          .catch(() => queries.invalidateQueries({ queryKey: keys.night(id) })),
    )
    events.addEventListener('added', (m) => void heard((JSON.parse(m.data as string) as { seq: number }).seq))
    return () => events.close()
  }, [id, queries, known, settle])

  const put = useCallback(
    async (op: Op) => {
      setWaiting((was) => [...was, op])
      await queue(id, op)
      void flush()
    },
    [id, flush],
  )
  const add: Add = useCallback(
    async (op) => {
      const typed = { ...op, id: newID(), at: op.at ?? Date.now(), who } as Op
      const [clean, words] = typed.whole ? [typed, []] : withoutKeys(typed, known())
      if (words.length > 0) setCuts((was) => [...was, { id: typed.id, words, whole: typed }])
      await put(clean)
      return typed.id
    },
    [who, known, put],
  )
  /** Puts back what was taken out of a text: somebody says that it is no key. */
  const putBack = useCallback(
    async (cut: Cut) => {
      setCuts((was) => was.filter((c) => c !== cut))
      await put({
        ...cut.whole,
        id: newID(),
        at: Math.max(Date.now(), cut.whole.at + 1),
        of: cut.whole.of ?? cut.whole.id,
        whole: true,
      })
    },
    [put],
  )
  /** Sends a refused operation again, as it was mended. */
  const mend = useCallback(
    async (op: Op) => {
      await queue(id, op)
      await takeBack(id, op.id)
      await readRefused()
      void flush()
    },
    [id, flush, readRefused],
  )
  const setAside = useCallback(
    async (r: Refused, aside: boolean) => {
      await setApart(id, { ...r, aside })
      await readRefused()
    },
    [id, readRefused],
  )
  const leaveOut = useCallback((cut: Cut) => setCuts((was) => was.filter((c) => c !== cut)), [])
  /** What was sent and is not in the show as it is known here. */
  const behind = sent.filter((l) => l.seq > (night.data?.seq ?? 0)).map((l) => l.op)
  return { night, waiting, behind, refused, failure, cuts, add, putBack, leaveOut, mend, setAside }
}

/** An operation without what looks like a stream key in its texts, and the words that were taken out. */
function withoutKeys(op: Op, e: Night | undefined): [Op, string[]] {
  const own = (word: string) => !!e?.facts.some((f) => f.item === word)
  let out = op
  const words: string[] = []
  for (const field of texts) {
    const text = fieldOf(out, field).get()
    if (typeof text !== 'string') continue
    const { clean, cut } = cutKeys(text, own)
    if (cut.length === 0) continue
    words.push(...cut)
    out = fieldOf(out, field).set(clean)
  }
  return [out, words]
}

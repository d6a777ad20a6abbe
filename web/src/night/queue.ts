import { createStore, del, entries, set, delMany } from 'idb-keyval'
import type { Op } from '../api/client'

/** What was ticked and stamped in this device and is not in the log yet: it survives a reload, and a night without a connection. */
const store = createStore('eventether-night', 'ops')

/** What the log would not take, with why: it waits for a hand, and holds up nothing. */
const apart = createStore('eventether-night-refused', 'ops')

/** An operation that was refused. */
export type Refused = { op: Op; why: string; field?: string; aside?: boolean }

const key = (night: string, op: string) => `${night}/${op}`

async function of<T>(night: string, from: typeof store): Promise<T[]> {
  return (await entries<string, T>(from)).filter(([k]) => k.startsWith(night + '/')).map(([, v]) => v)
}

export const queued = async (night: string): Promise<Op[]> =>
  (await of<Op>(night, store)).sort((a, b) => a.at - b.at)

export const queue = (night: string, op: Op) => set(key(night, op.id), op, store)

export const forget = (night: string, ops: Op[]) =>
  delMany(
    ops.map((op) => key(night, op.id)),
    store,
  )

export const refusedOps = async (night: string): Promise<Refused[]> =>
  (await of<Refused>(night, apart)).sort((a, b) => a.op.at - b.op.at)

export const setApart = (night: string, refused: Refused) => set(key(night, refused.op.id), refused, apart)

export const takeBack = (night: string, op: string) => del(key(night, op), apart)

/** Ids are made where something happens: 122 random bits, wherever the page comes from. */
export function newID() {
  const b = crypto.getRandomValues(new Uint8Array(16))
  return Array.from(b, (x) => x.toString(16).padStart(2, '0')).join('')
}

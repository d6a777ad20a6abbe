import { createStore, del, entries, set, delMany, setMany } from 'idb-keyval'
import type { Op } from '../api/client'

/** What was ticked and stamped in this device and is not in the log yet: it survives a reload, and a night without a connection. */
const store = createStore('eventether-night', 'ops')

/** What the log would not take, with why: it waits for a hand, and holds up nothing. */
const apart = createStore('eventether-night-refused', 'ops')

/** What is in the log since, and may not yet be in what is kept of the show for a reload without a connection. */
const after = createStore('eventether-night-logged', 'ops')

/** An operation that is in the log, and how far the log was then. */
export type Logged = { op: Op; seq: number }

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

export const loggedOps = async (night: string): Promise<Logged[]> =>
  (await of<Logged>(night, after)).sort((a, b) => a.op.at - b.op.at)

/** Takes operations out of what waits, for they are in the log; they stay at hand until the show is kept with them. */
export async function logged(night: string, ops: Op[], seq: number) {
  await setMany(
    ops.map((op) => [key(night, op.id), { op, seq }]),
    after,
  )
  await forget(night, ops)
}

/** A show was kept as the log was then: what is in it needs no keeping of its own. */
export async function kept(night: string, seq: number) {
  const held = (await loggedOps(night)).filter((l) => l.seq <= seq)
  await delMany(
    held.map((l) => key(night, l.op.id)),
    after,
  )
}

export const refusedOps = async (night: string): Promise<Refused[]> =>
  (await of<Refused>(night, apart)).sort((a, b) => a.op.at - b.op.at)

export const setApart = (night: string, refused: Refused) => set(key(night, refused.op.id), refused, apart)

export const takeBack = (night: string, op: string) => del(key(night, op), apart)

/** Ids are made where something happens: 122 random bits, wherever the page comes from. */
export function newID() {
  const b = crypto.getRandomValues(new Uint8Array(16))
  return Array.from(b, (x) => x.toString(16).padStart(2, '0')).join('')
}

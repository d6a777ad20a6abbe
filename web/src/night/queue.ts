import { createStore, entries, set, delMany } from 'idb-keyval'
import type { Op } from '../api/client'

/** What was ticked and stamped in this device and is not in the log yet: it survives a reload, and a night without a connection. */
const store = createStore('eventether-night', 'ops')

const key = (night: string, op: string) => `${night}/${op}`

export const queued = async (night: string): Promise<Op[]> =>
  (await entries<string, Op>(store))
    .filter(([k]) => k.startsWith(night + '/'))
    .map(([, op]) => op)
    .sort((a, b) => a.at - b.at)

export const queue = (night: string, op: Op) => set(key(night, op.id), op, store)

export const forget = (night: string, ops: Op[]) =>
  delMany(
    ops.map((op) => key(night, op.id)),
    store,
  )

/** Ids are made where something happens: 122 random bits, wherever the page comes from. */
export function newID() {
  const b = crypto.getRandomValues(new Uint8Array(16))
  return Array.from(b, (x) => x.toString(16).padStart(2, '0')).join('')
}

import type { Op } from '../api/client'

/** How much is sent at once: so many operations, and so many characters. */
const most = { ops: 500, text: 400_000 }

/** The first of what waits, as much as is sent at once; one at least. */
export function some(ops: Op[]): Op[] {
  let text = 0
  const n = ops.findIndex((op, i) => (text += JSON.stringify(op).length) > most.text || i === most.ops)
  return n < 0 ? ops : ops.slice(0, Math.max(1, n))
}

import type { Changed, Night, Op, Written } from '../api/client'

/** A night with what has become of it since. */
export function merge(e: Night, c: Changed): Night {
  if (c.seq < e.seq) return e // it is known already
  const moved = new Set([...c.gone, ...[...c.incidents, ...c.figures, ...c.notes].map((k) => k.id)])
  const list = (was: Written[], now: Written[]) =>
    moved.size === 0 ? was : byTime([...was.filter((k) => !moved.has(k.id)), ...now])
  const s = e.standing
  return {
    ...e,
    seq: c.seq,
    now: c.now,
    pace: c.pace,
    standing: {
      ticks: { ...s.ticks, ...c.ticks },
      incidents: list(s.incidents, c.incidents),
      figures: list(s.figures, c.figures),
      notes: list(s.notes, c.notes),
      airAt: c.airAt,
      airOp: c.airOp,
      endAt: c.endAt,
      endOp: c.endOp,
      lost: c.lost,
    },
  }
}

const first = (k: Written): Op => k.before[0] ?? k.op

function byTime(list: Written[]): Written[] {
  return list.sort((a, b) => first(a).at - first(b).at || (first(a).id < first(b).id ? -1 : 1))
}

/** The night with what waits in this device laid over it. */
export function over(e: Night, waiting: Op[]): Night {
  const ticks = { ...e.standing.ticks }
  const standing = { ...e.standing, ticks, incidents: [...e.standing.incidents] }
  for (const op of waiting) {
    if (op.step && ['tick', 'untick', 'fail'].includes(op.kind))
      ticks[op.step] = { done: op.kind === 'tick', failed: op.kind === 'fail', at: op.at, who: op.who }
    if (op.kind === 'air') Object.assign(standing, { airAt: op.at, airOp: op.id })
    if (op.kind === 'end') Object.assign(standing, { endAt: op.at, endOp: op.id })
    if (op.kind === 'drop' && op.of === standing.endOp) Object.assign(standing, { endAt: 0, endOp: '' })
    if (op.kind === 'drop' && op.of === standing.airOp) Object.assign(standing, { airAt: 0, airOp: '' })
    if (op.kind === 'incident') {
      const at = standing.incidents.findIndex((k) => k.id === (op.of || op.id))
      if (at < 0) standing.incidents.push({ id: op.id, op, before: [] })
      else if (standing.incidents[at]!.op.id !== op.id)
        standing.incidents[at] = { ...standing.incidents[at]!, op }
    }
  }
  return { ...e, standing }
}

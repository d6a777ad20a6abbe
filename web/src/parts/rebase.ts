import type { Edit } from '../api/client'

type Json = unknown
const isObject = (v: Json): v is Record<string, Json> =>
  typeof v === 'object' && v !== null && !Array.isArray(v)
const same = (a: Json, b: Json) => JSON.stringify(a) === JSON.stringify(b)

/** What somebody made of base, on top of what base has become meanwhile: only what they changed counts. */
export function merge(base: Json, mine: Json, now: Json): Json {
  if (same(mine, base)) return now
  if (same(now, base)) return mine
  if (isObject(base) && isObject(mine) && isObject(now)) {
    const out: Record<string, Json> = {}
    for (const key of new Set([...Object.keys(now), ...Object.keys(mine)])) {
      const v = merge(base[key], mine[key], now[key])
      if (v !== undefined) out[key] = v
    }
    return out
  }
  if (Array.isArray(base) && Array.isArray(mine) && Array.isArray(now)) {
    if (mine.length > base.length && same(mine.slice(0, base.length), base))
      return [...(now as Json[]), ...mine.slice(base.length)] // added to it
    if (base.length === mine.length && base.length === now.length)
      return mine.map((v, i) => merge(base[i], v, now[i]))
  }
  return mine
}

type Whole = { rig: { show: Json; sound?: Json } }

/** Edits that replace the whole show or the whole sound, as they are for what the rig has become since they were made. */
export function rebased(edits: Edit[], base: Whole, now: Whole): Edit[] {
  return edits.map((e) => {
    if (e.do === 'show') return { ...e, show: merge(base.rig.show, e.show, now.rig.show) } as Edit
    if (e.do === 'sound') return { ...e, sound: merge(base.rig.sound, e.sound, now.rig.sound) } as Edit
    return e
  })
}

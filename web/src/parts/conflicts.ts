import type { Edit, Rig } from '../api/client'

type Json = unknown
const isObject = (v: Json): v is Record<string, Json> =>
  typeof v === 'object' && v !== null && !Array.isArray(v)
const same = (a: Json, b: Json) => JSON.stringify(a) === JSON.stringify(b)

/** One thing two people changed: where it stands, and what each made of it. */
export type Conflict = { at: string; mine: Json; theirs: Json }

/** What edits made on a rig change that has become something else since; nothing where they go together. */
export function conflicts(edits: Edit[], base: Rig, now: Rig): Conflict[] {
  return edits.flatMap((e) => {
    if (e.do === 'show') return both('show', base.show, e.show, now.show)
    if (e.do === 'sound') return both('sound', base.sound, e.sound, now.sound)
    const t = target(e)
    if (!t) return []
    const [was, is] = [at(base, t.path), at(now, t.path)]
    return same(was, is) || same(is, t.value) ? [] : [{ at: t.path, mine: t.value, theirs: is }]
  })
}

/** Leaves that two people made different things of. */
function both(path: string, base: Json, mine: Json, theirs: Json): Conflict[] {
  if (same(mine, base) || same(theirs, base) || same(mine, theirs)) return []
  if (isObject(mine) && isObject(theirs)) {
    const was = isObject(base) ? base : {}
    return [...new Set([...Object.keys(mine), ...Object.keys(theirs)])].flatMap((k) =>
      both(`${path}/${k}`, was[k], mine[k], theirs[k]),
    )
  }
  if (Array.isArray(mine) && Array.isArray(theirs) && Array.isArray(base)) {
    const added = (x: Json[]) => x.length > base.length && same(x.slice(0, base.length), base)
    if (added(mine) || added(theirs)) return []
    if (mine.length === base.length && theirs.length === base.length)
      return mine.flatMap((v, i) => both(`${path}/${i}`, base[i], v, theirs[i]))
  }
  return [{ at: path, mine, theirs }]
}

/** The one place an edit writes, and what it writes there; of edits that add or take away there is none. */
function target(e: Edit): { path: string; value: Json } | undefined {
  const item = `items/${e.item}`
  switch (e.do) {
    case 'fact':
      return e.path === 'uplink/reading' ? undefined : { path: e.path!, value: e.fact }
    case 'word':
      return { path: e.path!, value: e.word }
    case 'mode':
      return { path: `${item}/set/output/${e.port}`, value: e.mode }
    case 'deliver':
      return { path: `${item}/set/deliver/${e.port}`, value: e.deliver }
    case 'runs-on':
      return { path: `${item}/set/runsOn`, value: e.word }
    case 'label':
      return { path: `${item}/label`, value: e.name }
    case 'powered-by':
      return { path: `${item}/poweredBy`, value: e.word }
    case 'plug':
      return { path: `leads/${e.lead}/${e.end}`, value: e.socket }
    case 'lead':
      return { path: `leads/${e.lead}/grade`, value: e.grade }
    case 'name':
      return { path: 'name', value: e.name }
  }
}

/** What stands at a path: things of lists by their id, or else by their place. */
function at(rig: Rig, path: string): Json {
  return path.split('/').reduce<Json>((v, k) => {
    if (Array.isArray(v)) return v.find((x) => isObject(x) && x['id'] === k) ?? v[Number(k)]
    return isObject(v) ? v[k] : undefined
  }, rig)
}

/** A value in few words. */
export function said(v: Json, nothing: string): string {
  if (v === undefined || v === null || v === '') return nothing
  if (!isObject(v)) return Array.isArray(v) ? v.map((x) => said(x, nothing)).join(', ') : String(v)
  if ('value' in v) return String(v['value'])
  if ('width' in v && 'height' in v)
    return [v['format'], `${String(v['width'])}×${String(v['height'])}`, v['rate']].filter(Boolean).join(' ')
  return String(v['name'] ?? v['label'] ?? v['id'] ?? JSON.stringify(v))
}

import type { Feed, Hop, Rig, Stage, Verdict } from '../api/client'
import type { Point } from '../parts/rope'

/** One stretch of one line on the board. */
export type Span = {
  key: string
  feed: number
  hop: Hop
  index: number
  a: Point
  b: Point
  /** The first line through a shared stretch carries its label. */
  labelled: boolean
  /** It runs at the height of its own line, not behind a hub. */
  level: boolean
  /** How far lines that run together reach below their middle. */
  spread: number
  /** From where the line leaves its own height for a hub, to the hub. */
  elbow?: [Point, Point]
}

/** How tall the texts came out: what hangs below each line and what behind its hub, by feed, and each strand's label. */
export type Sizes = {
  rows: Record<string, number>
  hubs: Record<string, number>
  outs: number[]
  plank: number
}

/** A small true-to-shape drawing of how a source lies on the programme. */
export type Frame = Point & {
  feed: number
  width: number
  height: number
  shape: NonNullable<Feed['shape']>
  /** The parts of the programme it fills in arrangements, where they are not all of it. */
  parts: { name: string; at: Rect }[]
}
type Rect = Verdict['layouts'][number]['boxes'][number]['at']

export type Grommet = Point & { ref: string; label: string; free: boolean }

export type Plan = {
  width: number
  height: number
  columns: { stage: Stage; x: number; width: number }[]
  rows: Point[]
  spans: Span[]
  plank?: { x: number; top: number; bottom: number; label: string; words: number }
  hubs: (Point & { id: string; label: string; reach: number })[]
  grommets: Grommet[]
  frames: Frame[]
  ends: { feed: number; from: Point; state: Hop['state'] }[]
  ring: Point
  outs: (Point & { words: number })[]
}

/** The least width of each stage, and of each stretch more in it. */
const stages: [Stage, number, number][] = [
  ['camera', 122, 0],
  ['socket', 112, 0],
  ['lead', 150, 122],
  ['capture', 132, 0],
  ['port', 0, 0],
  ['picture', 120, 0],
  ['send', 172, 0],
]
const rowHeight = 84
const plankTop = 18
/** Below a line, its text begins here. */
export const textBelow = 26
const elbowRun = 38
const elbowOf = (span: number) => Math.min(elbowRun, span * 0.26)
export const plankWidth = 26
const plugGap = 20

/** plan lays the lines: places come from the stages, nothing is placed by hand. `order` keeps the rows where they are while a change is only held. */
export function plan(verdict: Verdict, rig: Rig, width: number, order: string[], sizes?: Sizes): Plan {
  const most = (stage: Stage) =>
    Math.max(1, ...verdict.feeds.map((f) => f.hops.filter((h) => h.stage === stage).length))
  const wanted = stages.map(([stage, least, more]) =>
    stage === 'port' ? 96 + 56 * most(stage) : least + more * Math.max(0, most(stage) - 2),
  )
  const sum = wanted.reduce((a, b) => a + b, 0)
  const full = Math.max(width, sum * 0.86 + 16)
  let x = 8
  const columns = stages.map(([stage], i) => {
    const column = { stage, x, width: (wanted[i]! / sum) * (full - 16) }
    x += column.width
    return column
  })
  const end = (stage: Stage) => {
    const c = columns.find((c) => c.stage === stage)!
    return c.x + c.width
  }
  const host = rig.items.find((i) => i.gear.kind === 'computer' && i.role !== 'source')
  const place = new Map(order.map((id, i) => [id, i]))
  const placed = verdict.feeds
    .map((f, i) => ({ f, i, at: place.get(f.id) ?? i }))
    .sort((p, q) => p.at - q.at || p.i - q.i)
  const top = Math.max(72, plankTop + (sizes?.plank ?? 0) + 36)
  const rows: Point[] = []
  let down = top
  for (const { f, i } of placed) {
    rows[i] = { x: columns[0]!.x, y: down }
    down += Math.max(rowHeight, textBelow + (sizes?.rows[f.id] ?? 0) + 32, sizes?.hubs[f.id] ?? 0)
  }

  // Hubs stand at the middle height of the lines that join there.
  const joined = new Map<string, number[]>()
  verdict.feeds.forEach((f, i) => {
    for (const joint of jointsOf(f, host?.id)) joined.set(joint, [...(joined.get(joint) ?? []), i])
  })
  const hubY = new Map(
    [...joined].map(([id, fs]) => [id, fs.reduce((sum, i) => sum + rows[i]!.y, 0) / fs.length]),
  )

  const spans: Span[] = []
  const ends: Plan['ends'] = []
  const seen = new Map<string, Span>()
  const hubs = new Map<string, Plan['hubs'][number]>()
  const grommets = new Map<string, Grommet>()
  const frames: Frame[] = []
  verdict.feeds.forEach((f, i) => {
    let at: Point = rows[i]!
    let merged = false
    let spread = 0
    f.hops.forEach((hop, index) => {
      const mates = f.hops.filter((h) => h.stage === hop.stage)
      const k = mates.indexOf(hop)
      const slots = most(hop.stage)
      const begin = columns.find((c) => c.stage === hop.stage)!.x
      const stageEnd = end(hop.stage) - (hop.stage === 'port' ? plankWidth / 2 : 0)
      const from = Math.max(at.x, k > 0 ? at.x : 0)
      // Boxes on the way stand below each other, counted from the far end; at the port the way to a hub is the longest.
      const to =
        hop.stage === 'port'
          ? from + (stageEnd - from) * share(mates.length, k)
          : begin + ((stageEnd - begin) * (slots - mates.length + k + 1)) / slots
      const owner = hop.ref.split('.')[0]!
      const hub = jointOf(hop, host?.id)
      const plugs = hub ? joined.get(hub)! : []
      // Plugs in one hub or switcher stand one below the other.
      const apart = hub ? (plugs.indexOf(i) - (plugs.length - 1) / 2) * plugGap : 0
      const y = hub ? hubY.get(hub)! + apart : hop.stage === 'picture' ? rows[i]!.y : at.y
      const b = { x: to, y }
      const level = !hub || hop.stage !== 'port' || at.y === rows[i]!.y
      const earlier = seen.get(hop.ref)
      const shared = earlier && (hop.stage === 'port' || (merged && hop.stage !== 'picture'))
      // The computer takes a line in at a socket and hands it on at the line's own height.
      if (hop.stage === 'picture') at = { x: at.x + plankWidth / 2, y }
      const span: Span = {
        key: `${f.id}/${index}`,
        feed: i,
        hop,
        index,
        a: at,
        b,
        labelled: !shared,
        level: level && Math.abs(at.y - rows[i]!.y) < 1,
        spread,
      }
      if (hub && Math.abs(b.y - at.y) > 8) {
        // The line keeps its height past its own words, then goes over to the hub.
        span.b = { x: b.x - elbowOf(b.x - at.x), y: at.y }
        span.elbow = [span.b, { x: b.x - 6, y: b.y }]
      }
      seen.set(hop.ref, span)
      spans.push(span)
      if (hub) {
        hubs.set(hub, {
          id: hub,
          x: b.x,
          y: hubY.get(hub)!,
          label: rig.items.find((it) => it.id === hub)?.label ?? hub,
          reach: 12 + ((plugs.length - 1) / 2) * plugGap,
        })
      }
      if (hop.kind === 'port' && hop.stage === 'port' && owner === host?.id)
        grommets.set(hop.ref, { ...b, ref: hop.ref, label: hop.label, free: false })
      // Behind a hub the lines run side by side.
      at = hub ? { x: b.x, y: hubY.get(hub)! + (apart / plugGap) * 5 } : b
      merged ||= !!hub
      if (hub) spread = ((plugs.length - 1) / 2) * 5
    })
    const last = spans.at(-1)
    if (f.shape && last?.hop.stage === 'picture')
      frames.push({
        feed: i,
        x: last.b.x - 46,
        y: rows[i]!.y - 27,
        ...frameSize(f.shape.programme),
        shape: f.shape,
        parts: verdict.layouts.flatMap((l) =>
          l.boxes
            .filter((b) => b.source === f.source && b.at.w * b.at.h < 1)
            .map((b) => ({ name: l.name, at: b.at })),
        ),
      })
    if (f.hops.at(-1)?.stage === 'picture') ends.push({ feed: i, from: at, state: 'slack' })
  })

  let bottom = Math.max(down, top + 68)
  let plank: Plan['plank']
  if (host) {
    const px = end('port') - plankWidth / 2
    let y = bottom + 4
    const taken = new Set(rig.leads.flatMap((l) => [l.from, l.to]))
    for (const p of host.gear.ports ?? []) {
      const ref = `${host.id}.${p.id}`
      if (p.direction !== 'downstream' || taken.has(ref) || grommets.has(ref)) continue
      grommets.set(ref, { x: px, y, ref, label: p.label || p.id, free: true })
      y += 20
    }
    bottom = y
    plank = { x: px, top: top - 24, bottom: y - 4, label: host.label, words: plankTop }
  }
  const ys = rows.map((r) => r.y)
  const middle = (Math.min(...ys) + Math.max(...ys)) / 2
  const ring = { x: end('picture') + 44, y: middle }
  const outHeights = verdict.outs.map((_, i) => 44 + Math.max(34, sizes?.outs[i] ?? 0))
  const outsAll = outHeights.reduce((sum, h) => sum + h, 0)
  let outY = Math.max(top - 20, middle - outsAll / 2)
  // A strand above the programme has its words above it, one below has them below: the line never runs through them.
  const outs = outHeights.map((h) => {
    const above = outHeights.length > 1 && outY + h / 2 < middle
    const y = outHeights.length === 1 ? middle : outY + (above ? h - 26 : 12)
    const words = above ? outY : y + textBelow
    outY += h
    return { x: full - 10, y, words }
  })
  return {
    width: full,
    height: Math.max(bottom + 8, outY + 8),
    columns,
    rows,
    spans,
    plank,
    hubs: [...hubs.values()],
    grommets: [...grommets.values()],
    frames,
    ends,
    ring,
    outs,
  }
}

/** Where lines run together: a hub at the port, or a box with several inputs on the way. */
function jointOf(h: Hop, host: string | undefined): string | undefined {
  const owner = h.ref.split('.')[0]!
  if (h.stage === 'port') return h.kind === 'port' && owner !== host ? owner : undefined
  return h.kind === 'item' ? h.joins : undefined
}

function jointsOf(f: Feed, host: string | undefined): string[] {
  return f.hops.flatMap((h) => jointOf(h, host) ?? [])
}

function frameSize([w, h]: number[]) {
  const scale = Math.min(36 / w!, 22 / h!)
  return { width: w! * scale, height: h! * scale }
}

/** share is how much of what is left of a stage a stretch takes: the way to a hub is the longest. */
function share(of: number, k: number): number {
  if (of === 3) return [0.46, 0.48, 1][k]!
  return 1 / (of - k)
}

/** rowOrder puts lines that join at one hub beside each other, else leaves the order of the rig. */
export function rowOrder(verdict: Verdict, rig: Rig): string[] {
  const host = rig.items.find((i) => i.gear.kind === 'computer' && i.role !== 'source')?.id
  const out: Feed[] = []
  for (const f of verdict.feeds) {
    if (out.includes(f)) continue
    out.push(f)
    const mine = jointsOf(f, host)
    for (const g of verdict.feeds)
      if (!out.includes(g) && jointsOf(g, host).some((h) => mine.includes(h))) out.push(g)
  }
  return out.map((f) => f.id)
}

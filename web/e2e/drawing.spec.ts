import { expect, test } from '@playwright/test'
import type { Board } from '../src/api/client'
import { merge } from '../src/parts/rebase'
import { strand } from '../src/parts/rope'
import { bounds, figure } from '../src/tether/figures'
import { plan, plankWidth, rowOrder } from '../src/tether/layout'
import { loft, url } from './helpers'

// The drawing itself, without a page: where lines run and what shape they have.

const a = { x: 0, y: 10 }
const b = { x: 100, y: 10 }
const lowest = (d: string) => Math.max(...[...d.matchAll(/-?[\d.]+ (-?[\d.]+)/g)].map((m) => Number(m[1])))

test('a line hangs the deeper the more room it has', () => {
  const depth = (room: number) => lowest(strand(a, b, 'slack', room).pieces[0]!)
  expect(depth(1)).toBeGreaterThan(depth(0.5))
  expect(depth(0.5)).toBeGreaterThan(depth(0.1))
  expect(depth(0)).toBeGreaterThan(a.y)
})

test('taut is straight, snapped is two pieces with loose ends, untested is one piece', () => {
  expect(strand(a, b, 'taut', 0)).toEqual({ pieces: ['M0 10L100 10'], frays: [] })
  const parted = strand(a, b, 'snapped', 0)
  expect(parted.pieces).toHaveLength(2)
  expect(parted.frays).toHaveLength(6)
  expect(parted.pieces[0]).toMatch(/^M0 10/)
  expect(parted.pieces[1]).toMatch(/^M100 10/)
  expect(strand(a, b, 'untested', 0).pieces).toHaveLength(1)
})

test('figures: three digits, bounds, a tilde and "est." for estimates', () => {
  const cases: [string, string][] = [
    [bounds(470, 470, 'MB/s'), '470 MB/s'],
    [bounds(10, 5, 'm'), '5 to 10 m'],
    [bounds(497.664, 497.664, 'MB/s'), '497.7 MB/s'],
    [bounds(0.0599, 0.0599, ''), '0.06'],
    [bounds(2509.7, 2509.7, '%'), '2510 %'],
    [figure({ low: 5, value: 6.5, high: 8 }, 'W', true), '~6.5 (5 to 8 W) est.'],
    [figure({ low: 2, value: 2, high: 2 }, 'W', true), '~2 W est.'],
    [figure({ low: 2, value: 2, high: 2 }, 'W', false), '2 W'],
  ]
  for (const [got, want] of cases) expect(got).toBe(want)
})

test('the lines of the loft: unbroken from lens to programme, side by side where they join', async ({
  request,
}) => {
  const board = (await (await request.get(url(`/api/rigs/${await loft(request)}`))).json()) as Board
  const order = rowOrder(board.verdict, board.rig)
  expect(order).toHaveLength(5)
  expect(
    Math.abs(order.indexOf('cam-face.hdmi') - order.indexOf('slides.hdmi')),
    'what shares a hub stands together',
  ).toBe(1)

  for (const width of [1080, 1232, 1800]) {
    const p = plan(board.verdict, board.rig, width, order)
    board.verdict.feeds.forEach((feed, i) => {
      const line = p.spans.filter((s) => s.feed === i)
      expect(line).toHaveLength(feed.hops.length)
      expect(line[0]!.a).toEqual(p.rows[i])
      line.slice(1).forEach((s, k) => {
        const before = line[k]!
        const end = before.elbow?.[1] ?? before.b
        expect(s.a.x - end.x, `${feed.id} ${s.hop.stage}`).toBeGreaterThanOrEqual(0)
        expect(s.a.x - end.x).toBeLessThanOrEqual(plankWidth)
        expect(s.b.x).toBeGreaterThan(s.a.x)
      })
      expect(line.at(-1)!.b.y, 'every line leaves the computer at its own height').toBe(p.rows[i]!.y)
      expect(line.at(-1)!.b.x).toBeLessThan(p.ring.x)
    })
    const labels = p.spans.filter((s) => s.labelled).map((s) => (s.hop.stage === 'port' ? s.hop.ref : s.key))
    expect(new Set(labels).size, 'a shared stretch is labelled once').toBe(labels.length)
    expect(p.hubs.map((h) => h.label)).toEqual(['Small hub'])
    const plugs = p.spans.filter((s) => s.hop.ref.startsWith('hub.p')).map((s) => s.elbow?.[1] ?? s.b)
    expect(plugs).toHaveLength(2)
    expect(Math.abs(plugs[0]!.y - plugs[1]!.y), 'plugs in one hub can be told apart').toBeGreaterThanOrEqual(
      18,
    )
    expect(p.grommets.filter((g) => g.free).map((g) => g.ref)).toEqual(['pc.back-2', 'pc.back-3'])
    for (const g of p.grommets) {
      expect(g.y).toBeGreaterThan(p.plank!.top)
      expect(g.y).toBeLessThan(p.plank!.bottom)
    }
    expect(p.outs).toHaveLength(2)
    expect(p.height).toBeGreaterThan(Math.max(...p.rows.map((r) => r.y)))
  }
})

test('while a change is held the rows stay where they are', async ({ request }) => {
  const board = (await (await request.get(url(`/api/rigs/${await loft(request)}`))).json()) as Board
  const order = rowOrder(board.verdict, board.rig)
  const tried = await request.post(url('/api/try'), {
    data: { rig: board.rig, edits: [{ do: 'plug', lead: 'slides-plug', end: 'to', socket: 'pc.back-2' }] },
  })
  const ghost = (await tried.json()) as Pick<Board, 'rig' | 'verdict'>
  const before = plan(board.verdict, board.rig, 1232, order)
  const after = plan(ghost.verdict, ghost.rig, 1232, order)
  expect(after.rows).toEqual(before.rows)
  expect(rowOrder(ghost.verdict, ghost.rig), 'kept, it stands by itself').not.toEqual(order)
})

test('two changes made one right after the other: each keeps what it changed, and nothing else', () => {
  const base = { minutes: 60, calls: [{ persons: 1 }, {}], besides: ['a'] }
  const now = { ...base, calls: [{ persons: 3 }, {}] }
  expect(merge(base, { ...base, minutes: 90 }, now)).toEqual({ ...now, minutes: 90 })
  expect(merge(base, { ...base, calls: [{ persons: 1 }, { name: 'x' }] }, now)).toEqual({
    ...now,
    calls: [{ persons: 3 }, { name: 'x' }],
  })
  expect(merge(base, { ...base, besides: undefined }, now)).toEqual({ minutes: 60, calls: now.calls })
  expect(merge(base, { ...base, besides: ['a', 'b'] }, { ...base, besides: [] })).toEqual({
    ...base,
    besides: ['b'], // one was taken away, another added
  })
  expect(merge(['a', 'b'], ['b'], ['a', 'b', 'c'])).toEqual(['b']) // what cannot be told apart stays as it was made last
  expect(merge(base, base, now)).toBe(now)
  expect(merge({ calls: [] }, { calls: [{ name: 'b' }] }, { calls: [{ name: 'a' }] })).toEqual({
    calls: [{ name: 'a' }, { name: 'b' }],
  })
})

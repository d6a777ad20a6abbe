import { expect, test } from '@playwright/test'
import type { Board } from '../src/api/client'
import { plan, plankWidth, rowOrder } from '../src/tether/layout'
import { loft, url } from './helpers'

// The drawing itself, without a page: where lines run.

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

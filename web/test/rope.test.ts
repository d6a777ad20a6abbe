import assert from 'node:assert/strict'
import { test } from 'node:test'
import { strand } from '../src/parts/rope'
import { bounds, figure } from '../src/tether/figures'

const a = { x: 0, y: 10 }
const b = { x: 100, y: 10 }
const lowest = (d: string) => Math.max(...[...d.matchAll(/-?[\d.]+ (-?[\d.]+)/g)].map((m) => Number(m[1])))

test('a line hangs the deeper the more room it has', () => {
  const depth = (room: number) => lowest(strand(a, b, 'slack', room).pieces[0]!)
  assert.ok(depth(1) > depth(0.5))
  assert.ok(depth(0.5) > depth(0.1))
  assert.ok(depth(0) > a.y)
})

test('taut is straight, snapped is two pieces with loose ends, untested is one piece', () => {
  assert.deepEqual(strand(a, b, 'taut', 0), { pieces: ['M0 10L100 10'], frays: [] })
  const parted = strand(a, b, 'snapped', 0)
  assert.equal(parted.pieces.length, 2)
  assert.equal(parted.frays.length, 6)
  assert.match(parted.pieces[0]!, /^M0 10/)
  assert.match(parted.pieces[1]!, /^M100 10/)
  assert.equal(strand(a, b, 'untested', 0).pieces.length, 1)
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
  for (const [got, want] of cases) assert.equal(got, want)
})

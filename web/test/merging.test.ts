import assert from 'node:assert/strict'
import { test } from 'node:test'
import type { Edit, Rig } from '../src/api/client'
import { conflicts, said } from '../src/parts/conflicts'
import { merge } from '../src/parts/rebase'

test('two changes made one right after the other: each keeps what it changed, and nothing else', () => {
  const base = { minutes: 60, calls: [{ persons: 1 }, {}], besides: ['a'] }
  const now = { ...base, calls: [{ persons: 3 }, {}] }
  const cases: [unknown, unknown][] = [
    [merge(base, { ...base, minutes: 90 }, now), { ...now, minutes: 90 }],
    [
      merge(base, { ...base, calls: [{ persons: 1 }, { name: 'x' }] }, now),
      { ...now, calls: [{ persons: 3 }, { name: 'x' }] },
    ],
    [merge(base, { ...base, besides: undefined }, now), { minutes: 60, calls: now.calls }],
    // One was taken away, another added.
    [merge(base, { ...base, besides: ['a', 'b'] }, { ...base, besides: [] }), { ...base, besides: ['b'] }],
    // What cannot be told apart stays as it was made last.
    [merge(['a', 'b'], ['b'], ['a', 'b', 'c']), ['b']],
    [
      merge({ calls: [] }, { calls: [{ name: 'b' }] }, { calls: [{ name: 'a' }] }),
      { calls: [{ name: 'a' }, { name: 'b' }] },
    ],
  ]
  for (const [got, want] of cases) assert.deepEqual(got, want)
  assert.equal(merge(base, base, now), now)
})

const rig = (change: object) =>
  ({
    name: 'x',
    items: [{ id: 'cam', label: 'Camera', set: { runsOn: 'battery' } }],
    leads: [{ id: 'l', from: 'cam.hdmi', to: 'stick.in', grade: 'unknown' }],
    show: { minutes: 60, destinations: [{ name: 'A', send: { width: 1920 } }] },
    ...change,
  }) as unknown as Rig

test('what two people changed differently is a conflict; what one changed, or both alike, is none', () => {
  const base = rig({})
  const longer = rig({ show: { ...base.show, minutes: 90 } })
  const show = (part: object) => [{ do: 'show', show: { ...base.show, ...part } }] as Edit[]
  assert.deepEqual(conflicts(show({ minutes: 120 }), base, longer), [
    { at: 'show/minutes', mine: 120, theirs: 90 },
  ])
  assert.deepEqual(conflicts(show({ minutes: 90 }), base, longer), [], 'both alike')
  assert.deepEqual(conflicts(show({ setupMinutes: 30 }), base, longer), [], 'something else')
  assert.deepEqual(conflicts(show({ minutes: 120 }), base, base), [], 'nobody else')

  const wide = rig({ show: { ...base.show, destinations: [{ name: 'A', send: { width: 1280 } }] } })
  const at = conflicts(show({ destinations: [{ name: 'A', send: { width: 3840 } }] }), base, wide)
  assert.deepEqual(at, [{ at: 'show/destinations/0/send/width', mine: 3840, theirs: 1280 }])

  const grade = (word: string) => [{ do: 'word', path: 'leads/l/grade', word }] as Edit[]
  const premium = rig({ leads: [{ ...base.leads[0]!, grade: 'premium' }] })
  assert.deepEqual(conflicts(grade('ultra'), base, premium), [
    { at: 'leads/l/grade', mine: 'ultra', theirs: 'premium' },
  ])
  assert.deepEqual(conflicts(grade('premium'), base, premium), [])
  const mains = [{ do: 'runs-on', item: 'cam', word: 'mains' }] as Edit[]
  assert.deepEqual(conflicts(mains, base, premium), [], 'of another thing')
  const usb = rig({ items: [{ ...base.items[0]!, set: { runsOn: 'usb' } }] })
  assert.equal(conflicts(mains, base, usb)[0]?.theirs, 'usb')
})

test('a value in few words', () => {
  const cases: [unknown, string][] = [
    [undefined, 'nothing'],
    [3, '3'],
    [{ value: 4.5, low: 4, high: 5 }, '4.5'],
    [{ width: 1920, height: 1080, rate: '30' }, '1920×1080 30'],
    [['a', 'b'], 'a, b'],
    [{ name: 'A', x: 1 }, 'A'],
  ]
  for (const [v, want] of cases) assert.equal(said(v, 'nothing'), want)
})

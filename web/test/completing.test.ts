import assert from 'node:assert/strict'
import { test } from 'node:test'
import { fitting, lineAt } from '../src/bench/completing'

const camcorder = { text: 'Camcorder]', from: 6, to: 7, says: 'camera' }

test('what was typed while an answer was on its way belongs to what is replaced', () => {
  const then = { line: 'Door [c', within: 7 }
  assert.deepEqual(fitting([camcorder], then, then), [camcorder])
  assert.deepEqual(fitting([camcorder], then, { line: 'Door [camc', within: 10 }), [{ ...camcorder, to: 10 }])
  assert.deepEqual(fitting([camcorder], then, { line: 'Door [', within: 6 }), [{ ...camcorder, to: 6 }])
  const before = { line: 'Door [c > back 2', within: 7 }
  assert.deepEqual(fitting([camcorder], before, { line: 'Door [ca > back 2', within: 8 }), [
    { ...camcorder, to: 8 },
  ])
})

test('an answer for another line is none for this one', () => {
  const then = { line: 'Door [c', within: 7 }
  assert.deepEqual(fitting([camcorder], then, { line: 'Gate [cam', within: 9 }), [], 'another thing')
  assert.deepEqual(fitting([camcorder], then, { line: 'Do', within: 2 }), [], 'taken back beyond it')
  assert.deepEqual(
    fitting([camcorder], then, { line: 'Door [c] > back', within: 7 }),
    [],
    'something stands behind it',
  )
  assert.deepEqual(
    fitting([{ ...camcorder, to: 6 }], { line: 'Door [c', within: 7 }, { line: 'Door [ca', within: 8 }),
    [],
    'replaces what lies before the cursor',
  )
})

test('characters are counted as the server counts them', () => {
  assert.deepEqual(lineAt('a\n🎥 [c\nb', 7), { line: '🎥 [c', start: 2, within: 4 })
  const one = { text: 'Camcorder]', from: 3, to: 4, says: '' }
  assert.deepEqual(fitting([one], { line: '🎥 [c', within: 4 }, { line: '🎥 [ca', within: 5 }), [
    { ...one, to: 5 },
  ])
})

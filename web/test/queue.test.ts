import assert from 'node:assert/strict'
import { test } from 'node:test'
import type { Op } from '../src/api/client'
import { some } from '../src/night/batch'

const op = (n: number, text = '') => ({ id: String(n), at: n, text }) as unknown as Op

test('as much is sent at once as the log takes, one at least, in order', () => {
  const many = Array.from({ length: 1200 }, (_, n) => op(n))
  assert.deepEqual(some([]), [])
  assert.deepEqual(some(many.slice(0, 500)), many.slice(0, 500))
  assert.deepEqual(some(many), many.slice(0, 500))
  const long = [op(0, 'x'.repeat(300_000)), op(1, 'x'.repeat(300_000)), op(2)]
  assert.deepEqual(some(long), long.slice(0, 1))
  assert.deepEqual(
    some([op(0, 'x'.repeat(900_000)), op(1)]).length,
    1,
    'one that is too long by itself goes alone',
  )
})

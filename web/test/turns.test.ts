import assert from 'node:assert/strict'
import { test } from 'node:test'
import { turns } from '../src/parts/turns'

test('what was begun first is done first, and what fails ends itself alone', async () => {
  const inTurn = turns()
  const order: string[] = []
  let go = () => undefined as void
  const slow = inTurn(async () => {
    await new Promise<void>((done) => (go = done))
    order.push('slow')
    return 1
  })
  const fails = inTurn(() => Promise.reject(new Error('no')))
  const quick = inTurn(async () => {
    order.push('quick')
    return 2
  })
  await new Promise(setImmediate)
  assert.deepEqual(order, [])
  go()
  assert.equal(await slow, 1)
  await assert.rejects(fails, /no/)
  assert.equal(await quick, 2)
  assert.deepEqual(order, ['slow', 'quick'])
})

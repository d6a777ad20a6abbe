import assert from 'node:assert/strict'
import { test } from 'node:test'
import { follow } from '../src/night/follow'

/** A log of `now` operations, and a device that is at `at`; each answer is held until it is let go. */
function setUp(at: number | undefined) {
  const log = { now: 0, at, asked: [] as number[], answers: [] as (() => void)[] }
  const heard = follow(
    () => log.at,
    (since) => {
      log.asked.push(since)
      const answer = log.now
      return new Promise<void>((done) =>
        log.answers.push(() => {
          log.at = answer
          done()
        }),
      )
    },
  )
  return { log, heard }
}

test('what is told of while an answer is under way is asked for after it', async () => {
  const { log, heard } = setUp(0)
  log.now = 1
  const first = heard(1)
  log.now = 3
  await heard(3) // the answer that is under way was made before
  assert.deepEqual(log.asked, [0])
  log.answers.shift()!()
  await new Promise(setImmediate)
  assert.deepEqual(log.asked, [0, 1])
  log.answers.shift()!()
  await first
  assert.equal(log.at, 3)
  await heard(2) // known already
  assert.deepEqual(log.asked, [0, 1])
})

test('an answer that brings nothing is not asked for again and again; the next word asks', async () => {
  let asked = 0
  const heard = follow(
    () => 0,
    async () => void asked++,
  )
  await heard(5)
  assert.equal(asked, 1)
  await heard(5)
  assert.equal(asked, 2)
})

test('before a night is loaded nothing is asked', async () => {
  const { log, heard } = setUp(undefined)
  await heard(4)
  assert.deepEqual(log.asked, [])
})

import assert from 'node:assert/strict'
import { readFileSync } from 'node:fs'
import { test } from 'node:test'
import { withoutKeys } from '../src/night/keys'

const read = <T>(name: string) => JSON.parse(readFileSync(`../core/night/testdata/${name}`, 'utf8')) as T[]

test('what looks like a key is taken out in the browser as it is in the server', () => {
  for (const c of read<{ text: string; want: string }>('keys.json'))
    assert.equal(
      withoutKeys(c.text, (w) => w === 'stick-stage-number-2'),
      c.want,
    )
  const answers = read<{ Text: string; Clean: string }>('key-answers.json')
  assert.ok(answers.length > 1000)
  for (const a of answers) assert.equal(withoutKeys(a.Text), a.Clean, a.Text)
})

import assert from 'node:assert/strict'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { test } from 'node:test'

const files = readdirSync('src', { recursive: true, encoding: 'utf8' })
  .filter((f) => /\.tsx?$/.test(f) && !f.endsWith('.d.ts'))
  .map((f) => join('src', f))

test('no file imports itself by way of others, types included', () => {
  const imports = new Map(
    files.map((file) => {
      const text = readFileSync(file, 'utf8')
      const to = [...text.matchAll(/(?:from|import)\s*\(?\s*'(\.[^']+)'/g)].map((m) =>
        join(file, '..', m[1]!),
      )
      return [
        file,
        to.flatMap((t) => ['', '.ts', '.tsx'].map((end) => t + end)).filter((t) => files.includes(t)),
      ]
    }),
  )
  const done = new Set<string>()
  const walk = (file: string, way: string[]) => {
    assert.ok(!way.includes(file), `a circle: ${[...way.slice(way.indexOf(file)), file].join(' → ')}`)
    if (done.has(file)) return
    for (const to of imports.get(file)!) walk(to, [...way, file])
    done.add(file)
  }
  files.forEach((f) => walk(f, []))
  assert.ok(done.size > 100)
})

test('every text people read is in words.ts', () => {
  let looked = 0
  for (const file of files.filter((f) => f.endsWith('.tsx'))) {
    const text = readFileSync(file, 'utf8')
    const said = [
      ...text.matchAll(/>([^<>{}=();]*[A-Za-z]{3,}[^<>{}()=;]*)<\//g),
      ...text.matchAll(/(?:aria-label|title|placeholder|alt)="([^"]*[A-Za-z]{3,}[^"]*)"/g),
    ].map((m) => m[1]!.trim())
    assert.deepEqual(said, [], file)
    looked++
  }
  assert.ok(looked > 70)
})

test('nothing compares what is said', () => {
  for (const file of files) {
    const compared = readFileSync(file, 'utf8').match(
      /\.(?:words|says|label|text|sentence) [!=]==? '[^']* [^']*'/g,
    )
    assert.equal(compared, null, file)
  }
})

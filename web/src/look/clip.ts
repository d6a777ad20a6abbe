import { Failure } from '../api/client'
import type { components } from '../api/schema'
import { words } from '../words'

export type Looking = components['schemas']['Looking']
export type Looked = components['schemas']['Looked']

/** Has a clip looked at: tells how far it is, and gives what it came to. Calling it off ends the looking too. */
export async function lookAt(
  rig: string,
  of: string,
  clip: File,
  told: (l: Looking) => void,
  signal: AbortSignal,
): Promise<Looking> {
  const sent = await fetch(`/api/rigs/${rig}/look?of=${encodeURIComponent(of)}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: clip,
    signal,
  })
  if (!sent.ok || !sent.body) {
    const problem = (await sent.json().catch(() => undefined)) as { detail?: string } | undefined
    throw new Failure(sent.status, problem?.detail ?? words.look.broken)
  }
  const lines = sent.body.pipeThrough(new TextDecoderStream()).getReader()
  let rest = ''
  let last: Looking | undefined
  for (;;) {
    const { done, value } = await lines.read()
    if (done) break
    const all = (rest + value).split('\n')
    rest = all.pop()!
    for (const line of all) if (line) told((last = JSON.parse(line) as Looking))
  }
  if (last?.problem) throw new Failure(422, last.problem)
  if (!last?.looked) throw new Failure(0, words.look.broken)
  return last
}

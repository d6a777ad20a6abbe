import { Failure } from '../api/client'
import { linesOf } from '../api/lines'
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
  const last = await linesOf(sent, told, words.look.broken)
  if (!last.looked) throw new Failure(0, words.look.broken)
  return last
}

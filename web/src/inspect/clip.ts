import { Failure } from '../api/client'
import type { components } from '../api/schema'
import { words } from '../words'

export type Inspection = components['schemas']['Inspection']
export type Inspected = components['schemas']['Inspected']
export type Held = components['schemas']['Held']
export type Plot = components['schemas']['Plot']

/** Hands a clip over to be inspected when its turn comes, with a second recording of the same sound behind it where there is one. */
export async function inspectClip(
  rig: string,
  of: string,
  clip: File,
  second: File | undefined,
  signal: AbortSignal,
): Promise<Inspection> {
  const sent = await fetch(
    `/api/rigs/${rig}/inspections?of=${encodeURIComponent(of)}&name=${encodeURIComponent(clip.name)}${second ? `&first=${clip.size}` : ''}`,
    {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: second ? new Blob([clip, second]) : clip,
      signal,
    },
  )
  if (sent.ok) return (await sent.json()) as Inspection
  const problem = (await sent.json().catch(() => undefined)) as { detail?: string } | undefined
  throw new Failure(sent.status, problem?.detail ?? words.look.broken)
}

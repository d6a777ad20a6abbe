import { Failure } from '../api/client'
import type { components } from '../api/schema'
import { words } from '../words'

export type Inspection = components['schemas']['Inspection']
export type Inspected = components['schemas']['Inspected']
export type Held = components['schemas']['Held']
export type Plot = components['schemas']['Plot']

/** Hands a clip over to be inspected when its turn comes. */
export async function inspectClip(
  rig: string,
  of: string,
  clip: File,
  signal: AbortSignal,
): Promise<Inspection> {
  const sent = await fetch(
    `/api/rigs/${rig}/inspections?of=${encodeURIComponent(of)}&name=${encodeURIComponent(clip.name)}`,
    { method: 'POST', headers: { 'Content-Type': 'application/octet-stream' }, body: clip, signal },
  )
  if (sent.ok) return (await sent.json()) as Inspection
  const problem = (await sent.json().catch(() => undefined)) as { detail?: string } | undefined
  throw new Failure(sent.status, problem?.detail ?? words.look.broken)
}

import type { Hop } from '../api/client'

/** A hop on the board. */
export type HopAt = { feed: string; index: number }

/** The lead whose plug ends a hop. */
export function plugOf(hop: Hop): string | undefined {
  if (hop.kind === 'port' && hop.stage === 'port') return hop.lead
  return hop.kind === 'lead' && hop.stage === 'lead' ? hop.ref : undefined
}

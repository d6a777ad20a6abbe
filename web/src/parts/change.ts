import type { Edit } from '../api/client'

/** A change: what is to be done to a rig, the same in words, and what was decided or is left loose with it. */
export type Change = { edits: Edit[]; what: string; notes?: string[] }

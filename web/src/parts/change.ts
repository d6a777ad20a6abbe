import type { Edit } from '../api/client'

/** A change: what is to be done to a rig, and the same in words. */
export type Change = { edits: Edit[]; what: string }

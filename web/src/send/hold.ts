import type { Change } from '../parts/change'

/** What is held is a list of changes, the last one to each thing. */
export type Hold = (slot: string, change: Change) => void

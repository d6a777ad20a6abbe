import type { components } from '../api/schema'

export type Rehearsal = components['schemas']['Rehearsal']
export type Dip = components['schemas']['Dip']

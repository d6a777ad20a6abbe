import type { Act, Edit, Rig } from './client'

/** The keys everything that was asked for is kept under, so that what one page changes the others ask for again. */
export const keys = {
  rigs: ['rigs'],
  deletedRigs: ['rigs', 'deleted'],
  /** A revision of a rig; 0 is the newest. Without one, all of them. */
  board: (id: string, revision?: number) =>
    revision === undefined ? ['board', id] : ['board', id, revision],
  history: (id: string) => ['history', id],
  advice: (id: string, revision?: number) => ['advice', id, revision],
  moves: (id: string, revision: number | undefined, of: string) => ['moves', id, revision, of],
  tried: (id: string, revision?: number, edits?: Edit[], all = false) => ['try', id, revision, edits, all],
  panel: (revision: number | undefined, of: string[]) => ['panel', revision, of],
  agreement: (revision: number | undefined, lead: string, rig: Rig) => ['agree', revision, lead, rig],
  habits: (id: string, revision: number) => ['habits', id, revision],
  ways: (item: string, rig: Rig) => ['ways', item, rig],
  newer: (id: string, revision?: number) => ['newer', id, revision],
  offers: (rig: Rig, act: Act) => ['offers', rig, act],
  fits: (rig: Rig, socket: string) => ['fits', rig, socket],
  placing: (rig: Rig) => ['place', rig],
  power: (rig: Rig) => ['power', rig],
  sending: (rig: Rig, held: Edit[]) => ['send', rig, held],
  costs: (id: string, revision: number, other: string) => ['costs', id, revision, other],
  sound: (rig: Rig) => ['sound', rig],
  lineNeeds: (id: string, revision: number) => ['line', id, revision],
  lookedOf: (id: string, revision: number) => ['look', id, revision],
  inspectedOf: (id: string, revision: number) => ['inspected', id, revision],
  inspections: (id: string) => ['inspections', id],
  /** Held against the rig as it is when the page is opened: what is taken from it changes the rig, not what is shown. */
  inspection: (id: string) => ['inspection', id],
  rehearsals: (id: string) => ['rehearsals', id],
  reports: (id: string) => ['reports', id],
  report: (id: string) => ['report', id],
  sheetSince: (id: string, since: number, rig: Rig) => ['sheet', id, since, rig],
  runSheet: (id: string, revision?: number, people?: number) =>
    revision === undefined ? ['runsheet', id] : ['runsheet', id, revision, people],
  night: (id: string) => ['night', id],
  door: (id: string) => ['door', id],
  reportCommands: () => ['report commands'] as const,
  log: (rig?: string) => (rig === undefined ? ['log'] : ['log', rig]),
  measuring: ['measuring'],
  sheetHistory: (entry: string, revision: number) => ['shelf-history', entry, revision],
  destinations: ['destinations'],
  shelf: ['shelf'],
  rules: ['rules'],
  fields: ['fields'],
  startKinds: ['start kinds'],
}

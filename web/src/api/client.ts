import createClient from 'openapi-fetch'
import { words } from '../words'
import type { components, paths } from './schema'

type Schemas = components['schemas']
export type Board = Schemas['Board']
export type Verdict = Schemas['Verdict']
export type Feed = Schemas['Feed']
export type Hop = Schemas['Hop']
export type Limit = Schemas['Limit']
export type Finding = Schemas['Finding']
export type Question = Schemas['Question']
export type Move = Schemas['Move']
export type Edit = Schemas['Edit']
export type Rig = Schemas['Rig']
export type Listed = Schemas['Listed']
export type Out = Schemas['Out']
export type Ghost = Schemas['Ghost']
export type Past = Schemas['Past']
export type Agreement = Schemas['Agreement']
export type Way = Schemas['Way']
export type Shelved = Schemas['Shelved']
export type Entry = Schemas['Entry']
export type Gear = Schemas['Gear']
export type Port = Schemas['Port']
export type Mode = Schemas['Mode']
export type Show = Schemas['Show']
export type Newer = Schemas['Newer']
export type EDIDRead = Schemas['EDIDRead']
export type FormatsRead = Schemas['FormatsRead']
export type Placed = Schemas['Placed']
export type TreeRow = Schemas['Row']
export type USBRead = Schemas['USBRead']
export type PowerPlan = Schemas['PowerPlan']
export type Battery = Schemas['Battery']
export type Start = Schemas['Answers']
export type Sending = Schemas['Sending']
export type Sounding = Schemas['Sounding']
export type SoundWay = Schemas['SoundWay']
export type SoundPath = Schemas['SoundPath']
export type School = Schemas['School']
export type Costing = Schemas['Costing']
export type RunSheet = Schemas['RunSheet']
export type RunStep = Schemas['RunStep']
export type RunPlan = Schemas['RunPlan']
export type Night = Schemas['Night']
export type Changed = Schemas['Changed']
export type Op = Schemas['NightOp']
export type Incident = Schemas['NightIncident']
export type Written = Schemas['NightWritten']
export type Act = Schemas['Act']
export type Offer = Schemas['Offer']
export type Fit = Schemas['Fit']
export type TextProblem = Schemas['Mark']
export type Completion = Schemas['Completion']
export type Item = Schemas['Item']
export type Lead = Schemas['Lead']
export type Log = Schemas['Log']
export type State = Limit['state']
export type Stage = Limit['stage']
type Problem = Schemas['ErrorModel']

/** What became of everything in an archive. */
export type Restored = {
  made: string
  rows: { kind: string; id: string; name: string; came: 'new' | 'longer' | 'same' | 'ahead' | 'clash' }[]
}

/** How far bringing an archive back has come. */
type Restoring = { running: boolean; done: number; of: number; report?: Restored; problem?: Problem }

/** Failure says what happened, with every problem by place, and whether waiting may help. */
export class Failure extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly problems: { place: string; text: string }[] = [],
  ) {
    super(message)
  }
  /** The server or its database is away; nothing was refused. */
  get away() {
    return isAway(this.status)
  }
}

/** Requests under way that may have been done already, with the key that makes asking again harmless. */
const pending = new Map<string, string>()

const isAway = (status: number) => status === 0 || status === 502 || status === 503

/** Asks; what keeps something is asked under a key, the same one until there is a definite answer. */
async function keyed(request: Request): Promise<Response> {
  if (request.method === 'GET' || !/^\/api\/(rigs|start|shelf)/.test(new URL(request.url).pathname))
    return fetch(request)
  const asked = `${request.method} ${request.url}\n${await request.clone().text()}`
  const key = pending.get(asked) ?? crypto.randomUUID()
  pending.set(asked, key)
  request.headers.set('Idempotency-Key', key)
  const response = await fetch(request)
  if (!isAway(response.status) && response.status !== 504) pending.delete(asked)
  return response
}

const client = createClient<paths>({ baseUrl: '/', fetch: keyed })

type Answer<T> = { data?: T; error?: Problem; response: Response }

async function ask<T>(request: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await request
  } catch {
    throw new Failure(0, 'Even Tether does not answer. Is it still running?')
  }
  const { data, error, response } = answer
  if (!response.ok) {
    const problems = (error?.errors ?? []).map((e) => ({ place: e.location ?? '', text: e.message ?? '' }))
    throw new Failure(
      response.status,
      error?.detail ?? error?.title ?? `The server answered ${response.status}.`,
      problems,
    )
  }
  return data as T
}

const at = (id: string) => ({ params: { path: { id } } })

const of = (entry: string) => ({ params: { path: { entry } } })

export const api = {
  rules: () => ask(client.GET('/api/rules')),
  /** What was typed, read by the core; the failure says in words what is wrong with it. */
  money: (body: components['schemas']['TypedMoney']) => ask(client.POST('/api/money', { body })),
  number: (body: components['schemas']['TypedNumber']) => ask(client.POST('/api/number', { body })),
  claps: (text: string) => ask(client.POST('/api/claps', { body: { text } })),
  fields: () => ask(client.GET('/api/fields')),
  rigs: (deleted = false) => ask(client.GET('/api/rigs', { params: { query: { deleted } } })),
  startKinds: () => ask(client.GET('/api/start')),
  start: (body: Start) => ask(client.POST('/api/start', { body })),
  /** Lays the demo rigs out. */
  demo: () => ask(client.POST('/api/demo')),
  /** A rig file goes up as it is, so that the server can name everything wrong with it. */
  import: (text: string) =>
    ask<Board>(
      keyed(
        new Request('/api/rigs', {
          method: 'POST',
          headers: { 'Content-Type': 'application/json' },
          body: text,
        }),
      ).then(async (response) => {
        const body: unknown = await response.json().catch(() => undefined)
        return response.ok ? { data: body as Board, response } : { error: body as Problem, response }
      }),
    ),
  board: (id: string, revision = 0) =>
    ask(client.GET('/api/rigs/{id}', { params: { path: { id }, query: { revision } } })).catch(
      (e: unknown) => {
        throw e instanceof Failure && e.status === 422 ? new Failure(404, words.noRig(id)) : e
      },
    ),
  /** All the advice on a rig: what its board leaves for later when the rig is large. */
  advice: (id: string, revision: number, signal?: AbortSignal) =>
    ask(client.GET('/api/rigs/{id}/advice', { params: { path: { id }, query: { revision } }, signal })),
  copy: (id: string) => ask(client.POST('/api/rigs/{id}/copy', at(id))),
  remove: (id: string) => ask<unknown>(client.DELETE('/api/rigs/{id}', at(id))),
  restore: (id: string) => ask<unknown>(client.POST('/api/rigs/{id}/restore', at(id))),
  edit: (id: string, from: number, edits: Edit[], what: string) =>
    ask(client.POST('/api/rigs/{id}/edits', { ...at(id), body: { from, edits, what } })),
  undo: (id: string, from: number) => ask(client.POST('/api/rigs/{id}/undo', { ...at(id), body: { from } })),
  redo: (id: string, from: number) => ask(client.POST('/api/rigs/{id}/redo', { ...at(id), body: { from } })),
  /** The rig as it was once, as a new state. */
  backTo: (id: string, from: number, to: number) =>
    ask(client.POST('/api/rigs/{id}/back', { ...at(id), body: { from, to } })),
  history: (id: string) => ask(client.GET('/api/rigs/{id}/history', at(id))),
  /** What edits would do: with the advice that comes at once, or with all of it. */
  try: (rig: Rig, edits: Edit[], all = false, signal?: AbortSignal) =>
    ask(client.POST('/api/try', { body: { rig, edits, all }, signal })),
  agree: (rig: Rig, of: string) => ask(client.POST('/api/agree', { body: { rig, of } })),
  takeMeasured: (id: string, body: { path: string; value: number; on: string; what: string }) =>
    ask(client.POST('/api/rigs/{id}/measured', { ...at(id), body })),
  habits: (id: string) => ask(client.GET('/api/rigs/{id}/habits', at(id))),
  ways: (rig: Rig, of: string) => ask(client.POST('/api/ways', { body: { rig, of } })),
  newer: (id: string) => ask(client.GET('/api/rigs/{id}/newer', at(id))),
  freeze: (id: string, frozen: boolean) =>
    ask<unknown>(client.POST('/api/rigs/{id}/freeze', { ...at(id), body: { frozen } })),
  shelf: (deleted = false) => ask(client.GET('/api/shelf', { params: { query: { deleted } } })),
  putOnShelf: (entry: Entry, what?: string) => ask(client.POST('/api/shelf', { body: { entry, what } })),
  saveOnShelf: (entry: Entry, from: number, what: string) =>
    ask(client.PUT('/api/shelf/{entry}', { ...of(entry.id), body: { entry, from, what } })),
  shelfHistory: (entry: string) =>
    ask(client.GET('/api/shelf/{entry}/history', { params: { path: { entry } } })),
  backToSheet: (entry: string, from: number, to: number) =>
    ask(client.POST('/api/shelf/{entry}/back', { params: { path: { entry } }, body: { from, to } })),
  copyOnShelf: (id: string) => ask(client.POST('/api/shelf/{entry}/copy', of(id))),
  takeOffShelf: (id: string) => ask<unknown>(client.DELETE('/api/shelf/{entry}', of(id))),
  backOnShelf: (id: string) => ask<unknown>(client.POST('/api/shelf/{entry}/restore', of(id))),
  importShelf: (text: string) => ask(client.POST('/api/shelf-file', { body: { text } })),
  readEDID: (files: { name: string; data: string }[], gear?: Gear, port?: string, on?: string) =>
    ask(client.POST('/api/edid', { body: { files, gear, port, on } })),
  readFormats: (text: string, gear?: Gear) => ask(client.POST('/api/formats', { body: { text, gear } })),
  place: (rig: Rig, signal?: AbortSignal) => ask(client.POST('/api/place', { body: { rig }, signal })),
  readUSB: (rig: Rig, texts: { name: string; text: string }[]) =>
    ask(client.POST('/api/usb', { body: { rig, texts } })),
  readHere: (rig: Rig) => ask(client.POST('/api/usb/here', { body: { rig } })),
  power: (rig: Rig) => ask(client.POST('/api/power', { body: { rig } })),
  send: (rig: Rig, edits: Edit[], since?: Rig) =>
    ask(client.POST('/api/send', { body: { rig, edits, since } })),
  measure: (body: { width: number; height: number; rate: string; folder?: string; seconds?: number }) =>
    ask(client.POST('/api/measure', { body })),
  measured: () => ask(client.GET('/api/measure')),
  stopMeasuring: () => ask(client.DELETE('/api/measure')),
  readMeasurement: (text: string) => ask(client.POST('/api/measurement', { body: { text } })),
  readUplink: (text: string) => ask(client.POST('/api/uplink', { body: { text } })),
  destinations: () => ask(client.GET('/api/destinations')),
  keepDestination: (body: components['schemas']['Known']) => ask(client.PUT('/api/destinations', { body })),
  dropDestination: (name: string) => ask(client.DELETE('/api/destinations', { params: { query: { name } } })),
  readRecording: (body: { path: string } | { mb: number; minutes: number; declaredKbps?: number }) =>
    ask(client.POST('/api/recording', { body })),
  costs: (id: string, other?: string) =>
    ask(client.GET('/api/rigs/{id}/costs', { params: { path: { id }, query: { with: other } } })),
  sound: (rig: Rig) => ask(client.POST('/api/sound', { body: { rig } })),
  runSheet: (id: string, people: number) =>
    ask(client.GET('/api/rigs/{id}/runsheet', { params: { path: { id }, query: { people } } })),
  openNight: (id: string, body: { id: string; airAt: string; people: number }) =>
    ask(client.POST('/api/rigs/{id}/nights', { ...at(id), body })),
  night: (id: string) => ask(client.GET('/api/nights/{id}', at(id))),
  addOps: (id: string, ops: Op[], after?: number) =>
    ask(client.POST('/api/nights/{id}/ops', { ...at(id), body: { ops, sentAt: Date.now(), after } })),
  nightChanges: (id: string, after: number) =>
    ask(client.GET('/api/nights/{id}/changes', { params: { path: { id }, query: { after } } })),
  readTable: (id: string, text: string) =>
    ask(client.POST('/api/nights/{id}/table', { ...at(id), body: { text } })),
  door: (id: string) => ask(client.GET('/api/nights/{id}/door', at(id))),
  openDoor: (id: string) => ask(client.POST('/api/nights/{id}/door', at(id))),
  shutDoor: (id: string) => ask(client.DELETE('/api/nights/{id}/door', at(id))),
  /** On a phone, at the door of a show. */
  pair: (code: string) =>
    ask<{ night: string }>(
      fetch('/api/pair', {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ code }),
      }).then(async (response) => {
        const body: unknown = await response.json().catch(() => undefined)
        return response.ok
          ? { data: body as { night: string }, response }
          : { error: body as Problem, response }
      }),
    ),
  lookedOf: (id: string) => ask(client.GET('/api/rigs/{id}/look', { params: { path: { id } } })),
  rehearse: (id: string, body: { part: string; open?: boolean; by?: 'rtmp' | 'srt' | 'webrtc' }) =>
    ask(client.POST('/api/rigs/{id}/rehearsals', { ...at(id), body })),
  rehearsals: (id: string) => ask(client.GET('/api/rigs/{id}/rehearsals', at(id))),
  dip: (id: string, body: { kind: Schemas['Dip']['kind']; value: number; seconds: number }) =>
    ask(client.POST('/api/rehearsals/{id}/dip', { ...at(id), body })),
  endRehearsal: (id: string) => ask(client.POST('/api/rehearsals/{id}/end', at(id))),
  reports: (id: string) => ask(client.GET('/api/rigs/{id}/reports', at(id))),
  report: (id: string) => ask(client.GET('/api/reports/{id}', at(id))),
  inspectedOf: (id: string) => ask(client.GET('/api/rigs/{id}/inspected', at(id))),
  inspections: (id: string) => ask(client.GET('/api/rigs/{id}/inspections', at(id))),
  inspection: (id: string) => ask(client.GET('/api/inspections/{id}', at(id))),
  clapped: (id: string, heard: number[], met: number[]) =>
    ask(client.POST('/api/inspections/{id}/claps', { ...at(id), body: { heard, met } })),
  callOffInspection: (id: string) => ask(client.DELETE('/api/inspections/{id}', at(id))),
  inputsOf: (id: string, inputs: Schemas['Input'][]) =>
    ask(client.POST('/api/rigs/{id}/inputs', { params: { path: { id } }, body: { inputs } })),
  openLook: (id: string, body: { of: string; facts: Schemas['DeviceFacts'] }) =>
    ask(client.POST('/api/rigs/{id}/looks', { params: { path: { id } }, body })),
  endLook: (look: string, body: Schemas['DeviceFacts']) =>
    ask(client.POST('/api/looks/{look}/end', { params: { path: { look } }, body })),
  waved: (looks: string[]) => ask(client.POST('/api/looks/wave', { body: { looks } })),
  lineNeeds: (id: string) => ask(client.GET('/api/rigs/{id}/line', { params: { path: { id } } })),
  preflight: (looks: string[], beside: string[]) =>
    ask(client.POST('/api/looks/preflight', { body: { looks, beside } })),
  reportCommands: () => ask(client.GET('/api/usb/commands')),
  heardFirst: (first: string, second: string) =>
    ask(client.POST('/api/looks/claps', { body: { first, second } })),
  matchCameras: (patches: Schemas['Marked'][]) => ask(client.POST('/api/looks/match', { body: { patches } })),
  together: (alone: string[], beside: string[]) =>
    ask(client.POST('/api/looks/together', { body: { alone, beside } })),
  log: (rig?: string) => ask(client.GET('/api/nights', { params: { query: { rig } } })),
  importNight: (text: string) =>
    ask<{ added: boolean; id: string }>(
      fetch('/api/nights', {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: text,
      }).then(async (response) => {
        const body: unknown = await response.json().catch(() => undefined)
        return response.ok
          ? { data: body as { added: boolean; id: string }, response }
          : { error: body as Problem, response }
      }),
    ),
  /** Brings an archive back; what takes long is asked for until it is in. */
  bringBack: async (file: File, progress: (done: number, of: number) => void): Promise<Restored> => {
    const told = (response: Response) => response.json().catch(() => undefined) as Promise<unknown>
    const sent = await fetch('/api/restore', {
      method: 'POST',
      headers: { 'Content-Type': 'application/zip' },
      body: file,
    })
    if (sent.status !== 202)
      return ask<Restored>(
        told(sent).then((body) =>
          sent.ok ? { data: body as Restored, response: sent } : { error: body as Problem, response: sent },
        ),
      )
    for (;;) {
      const now = await ask<Restoring>(
        fetch('/api/restore').then(async (response) => ({
          data: (await told(response)) as Restoring,
          response,
        })),
      )
      if (now.report) return now.report
      if (now.problem)
        return ask<Restored>(
          Promise.resolve({ error: now.problem, response: new Response(null, { status: 422 }) }),
        )
      if (!now.running) throw new Failure(0, words.log.broken)
      progress(now.done, now.of)
      await new Promise((next) => setTimeout(next, 500))
    }
  },
  /** An act of the board as edits. */
  act: (rig: Rig, act: Act) => ask(client.POST('/api/act', { body: { rig, act } })),
  offers: (rig: Rig, act: Act, signal?: AbortSignal) =>
    ask(client.POST('/api/offers', { body: { rig, act }, signal })),
  /** Lines said of a rig as edits, or what is not understood. */
  say: (rig: Rig, text: string) => ask(client.POST('/api/say', { body: { rig, text } })),
  complete: (rig: Rig, line: string, at: number, signal?: AbortSignal) =>
    ask(client.POST('/api/complete', { body: { rig, line, at }, signal })),
  /** A rig told as text, kept as a new one. */
  fromText: (text: string) => ask(client.POST('/api/text', { body: { text } })),
  fits: (rig: Rig, socket: string) => ask(client.POST('/api/fits', { body: { rig, socket } })),
  moves: (rig: Rig, of: string) => ask(client.POST('/api/moves', { body: { rig, of } })),
}

export const fileAddress = (id: string, revision: number, as: 'json' | 'text' = 'json') =>
  `/api/rigs/${id}/file?revision=${revision}${as === 'text' ? '&as=text' : ''}`

export const sheetAddress = (id: string, revision: number, as: string) =>
  `/api/rigs/${id}/sheet?revision=${revision}&as=${as}`

export const runSheetAddress = (id: string, as: string, people: number, air: Date) =>
  `/api/rigs/${id}/runsheet/file?as=${as}&people=${people}&air=${encodeURIComponent(zoned(air))}`

/** A moment with the offset of this place, so that a file made elsewhere shows the time of day here. */
export function zoned(at: Date) {
  const off = -at.getTimezoneOffset()
  const two = (n: number) => String(Math.floor(Math.abs(n))).padStart(2, '0')
  const here = new Date(at.getTime() + off * 60_000).toISOString().slice(0, 19)
  return `${here}${off < 0 ? '-' : '+'}${two(off / 60)}:${two(off % 60)}`
}

export const shoppingAddress = (id: string) => `/api/rigs/${id}/shopping`

export const nightAddress = (id: string, as: string) => `/api/nights/${id}/file?as=${as}`

export const shelfAddress = (format: 'json' | 'csv', only: string[] = []) =>
  `/api/shelf-file?format=${format}${only.length ? `&only=${only.map(encodeURIComponent).join(',')}` : ''}`

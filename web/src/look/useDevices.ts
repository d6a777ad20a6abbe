import { useCallback, useEffect, useRef, useState } from 'react'
import { api, type Failure } from '../api/client'
import type { components } from '../api/schema'
import { words } from '../words'
import type { Now } from './batch'
import type { Looked } from './clip'
import { allowed, anew, type Ask, Device, goesOn, inputs, type Row, why } from './device'
import { tie, ties } from './ties'

const w = words.look.devices

export type Choice = { what: string; says: string }
export type Done = { key: string; label: string; looked: Looked; look: string }
export type Preflight = components['schemas']['Preflight']

/** A while, in seconds, that can be cut short. */
const wait = (seconds: number, enough: AbortSignal) =>
  new Promise<void>((done) => {
    const timer = setTimeout(done, seconds * 1000)
    enough.addEventListener('abort', () => {
      clearTimeout(timer)
      done()
    })
  })

/** How long claps are listened for, in seconds. */
const clapping = 12

/** How long each is looked at when everything is, in seconds. */
const each = 10

/** The devices of this computer: found, named, opened, looked at one by one, all of them, and all at once. */
export function useDevices(rig: string, choices: Choice[], order: string[]) {
  const [rows, setRows] = useState<Row[]>()
  const [problems, setProblems] = useState<string[]>([])
  const [failure, setFailure] = useState<Failure>()
  const [finding, setFinding] = useState(false)
  const [open, setOpen] = useState<Record<string, { device: Device; now?: Now; trouble?: string }>>({})
  const [done, setDone] = useState<Done[]>([])
  const [going, setGoing] = useState('')
  const [together, setTogether] = useState<components['schemas']['Together']>()
  const [preflight, setPreflight] = useState<Preflight>()
  const [waved, setWaved] = useState('')
  const [claps, setClaps] = useState<
    components['schemas']['HeardFirst'] & { first: string; second: string }
  >()
  const enough = useRef(new AbortController())
  const held = useRef(new Set<Device>())

  const closeAll = useCallback(() => {
    enough.current.abort()
    enough.current = new AbortController()
    for (const d of held.current) void d.close().catch(() => undefined)
    held.current.clear()
    setOpen({})
    setGoing('')
    setWaved('')
  }, [])
  useEffect(() => closeAll, [closeAll])

  const find = async () => {
    if (!allowed() && sessionStorage.getItem(anew) === null) {
      sessionStorage.setItem(anew, location.pathname)
      location.reload()
      return
    }
    sessionStorage.removeItem(anew)
    closeAll()
    setFinding(true)
    setFailure(undefined)
    try {
      const found = await inputs()
      setProblems(found.problems)
      const named = found.all
        .map((d) => ({ ...d, label: d.label || w.unnamed }))
        .sort((a, b) => b.kind.localeCompare(a.kind)) // pictures first
      const is = await api.inputsOf(rig, named)
      const known = ties(rig)
      setRows(
        named.map((d, i) => {
          const before = known[d.id]
          const tied = before && choices.some((c) => c.what === before.of)
          const same = tied && before.label === d.label
          return {
            ...d,
            of: is[i]!.sure || !same ? is[i]!.of : before.of,
            why: is[i]!.sure ? is[i]!.why : same ? w.tied : tied ? w.moved : is[i]!.why,
            twin: is[i]!.twin,
            ask: is[i]!,
          }
        }),
      )
    } catch (e) {
      setFailure(e as Failure)
    }
    setFinding(false)
  }

  // A page that was loaded anew to be let at devices goes on where it was.
  const begun = useRef(false)
  useEffect(() => {
    if (begun.current || choices.length === 0 || !goesOn()) return
    begun.current = true
    void find()
  })

  const name = (row: Row, of: string) => {
    tie(rig, row.id, { of, label: row.label })
    setRows((was) => was?.map((r) => (r.id === row.id ? { ...r, of, why: w.tied } : r)))
  }

  const begin = async (row: Row, clock?: AudioContext): Promise<Device | undefined> => {
    const until = enough.current.signal
    const mine = (more: { now?: Now; trouble?: string }) =>
      setOpen((was) => (was[row.id] ? { ...was, [row.id]: { ...was[row.id]!, ...more } } : was))
    try {
      const d = await Device.open(
        rig,
        row.of || 'programme',
        row,
        row.ask,
        (now) => mine({ now, trouble: undefined }),
        (trouble) => mine({ trouble }),
        clock,
      )
      if (until.aborted) {
        void d.close().catch(() => undefined) // everything was closed, or the page left, while it opened
        return undefined
      }
      held.current.add(d)
      setOpen((was) => ({ ...was, [row.id]: { device: d } }))
      return d
    } catch (e) {
      if (!until.aborted) setProblems((was) => [...was, why(e)])
      return undefined
    }
  }
  const end = async (row: Row, d: Device, key: string) => {
    held.current.delete(d)
    try {
      const looked = await d.end()
      setDone((was) => [...was.filter((x) => x.key !== key), { key, label: row.label, looked, look: d.look }])
    } catch (e) {
      setFailure(e as Failure)
    }
    setOpen((was) => Object.fromEntries(Object.entries(was).filter(([id]) => id !== row.id)))
  }
  const lookAt = async (row: Row, seconds: number, as?: Ask) => {
    const until = enough.current.signal
    setProblems([])
    const d = await begin(as ? { ...row, ask: { ...row.ask, ...as } } : row)
    if (!d) return
    await wait(seconds, until)
    if (held.current.has(d)) await end(row, d, row.id)
  }
  const stopOne = (row: Row) => {
    const at = open[row.id]
    if (at && held.current.has(at.device)) void end(row, at.device, row.id)
  }

  /** All that are named, in the run sheet's order. */
  const named = () => {
    const place = (r: Row) => (order.includes(r.of) ? order.indexOf(r.of) : order.length)
    return rows!.filter((r) => r.of).sort((a, b) => place(a) - place(b))
  }

  const everything = async () => {
    closeAll()
    const until = enough.current.signal
    const all = named()
    setDone([])
    setTogether(undefined)
    setPreflight(undefined)
    setProblems([])
    const alone: { row: Row; look: string }[] = []
    for (const [i, row] of all.entries()) {
      setGoing(w.alone(row.label, i + 1, all.length))
      const d = await begin(row)
      if (until.aborted) return
      if (!d) continue
      await wait(each, until)
      if (until.aborted) return
      await end(row, d, row.id)
      alone.push({ row, look: d.look })
    }
    const pictures = alone.filter((a) => a.row.kind === 'videoinput')
    const beside = new Map<string, string>() // by the look alone
    if (pictures.length > 1) {
      setGoing(w.atOnce(pictures.length))
      const opened = await Promise.all(pictures.map((a) => begin(a.row)))
      await wait(each, until)
      if (until.aborted) return
      await Promise.all(opened.map((d, i) => d && end(pictures[i]!.row, d, `${pictures[i]!.row.id} beside`)))
      const both = pictures.flatMap((a, i) => (opened[i] ? [[a.look, opened[i].look] as const] : []))
      both.forEach(([a, b]) => beside.set(a, b))
      setTogether(
        await api
          .together(
            both.map(([a]) => a),
            both.map(([, b]) => b),
          )
          .catch(() => undefined),
      )
      setDone((was) => was.filter((x) => !x.key.endsWith(' beside')))
    }
    setGoing('')
    const looks = alone.map((a) => a.look)
    await api
      .preflight(
        looks,
        looks.map((l) => beside.get(l) ?? ''),
      )
      .then(setPreflight, (e) => setFailure(e as Failure))
  }

  const twins = rows?.filter((r) => r.twin) ?? []
  const watch = async () => {
    closeAll()
    const until = enough.current.signal
    setGoing(w.watching)
    const devices = (await Promise.all(twins.map((r) => begin(r)))).filter((d) => !!d)
    while (!until.aborted) {
      const told = await api.waved(devices.map((d) => d.look)).catch(() => undefined)
      const is = told?.sure && devices.find((d) => d.look === told.look)
      if (is) setWaved(is.input.id)
      await wait(0.5, until)
    }
  }

  /** Two microphones open at once, by one clock: which hears claps first. */
  const clap = async (first: Row, second: Row) => {
    closeAll()
    const until = enough.current.signal
    setProblems([])
    setClaps(undefined)
    setGoing(w.clapNow)
    const clock = new AudioContext({ sampleRate: 48_000 })
    const opened = await Promise.all([begin(first, clock), begin(second, clock)])
    if (opened.every((d) => d)) await wait(clapping, until)
    await Promise.all(opened.map((d) => d?.end().catch(() => undefined)))
    await clock.close()
    if (until.aborted) return
    closeAll()
    if (opened[0] && opened[1])
      await api.heardFirst(opened[0].look, opened[1].look).then(
        (c) => setClaps({ ...c, first: first.label, second: second.label }),
        (e) => setFailure(e as Failure),
      )
  }

  /** All pictures that are named, open at once, to be seen beside each other. */
  const beside = async () => {
    closeAll()
    setProblems([])
    setGoing(w.besideNow)
    await Promise.all(
      named()
        .filter((r) => r.kind === 'videoinput')
        .map((r) => begin(r)),
    )
  }

  return {
    claps,
    clap,
    beside,
    rows,
    problems,
    failure,
    finding,
    open,
    done,
    going,
    together,
    preflight,
    waved,
    twins,
    find,
    name,
    lookAt,
    stopOne,
    everything,
    watch,
    closeAll,
  }
}

import { useCallback, useEffect, useRef, useState } from 'react'
import { api, type Board, type Failure } from '../api/client'
import type { components } from '../api/schema'
import { Problems } from '../parts/Frame'
import type { Change } from '../parts/change'
import { words } from '../words'
import type { Now } from './batch'
import type { Looked } from './clip'
import { Device, inputs, mayOpen, type Row, why } from './device'
import { DeviceRow } from './DeviceRow'
import { Report } from './Report'
import { tie, ties } from './ties'
import { TogetherTable } from './TogetherTable'

const w = words.look.devices

type Choice = { what: string; says: string }
type Done = { key: string; label: string; looked: Looked }

/** A while, in seconds, that can be cut short. */
const wait = (seconds: number, enough: AbortSignal) =>
  new Promise<void>((done) => {
    const timer = setTimeout(done, seconds * 1000)
    enough.addEventListener('abort', () => {
      clearTimeout(timer)
      done()
    })
  })

/** How long each is looked at when everything is, in seconds. */
const each = 10

/** The cameras and microphones of this computer: which is what of the rig, and what each really delivers. */
export function Devices({
  rig,
  choices,
  keep,
}: {
  rig: Board
  choices: Choice[]
  keep: (c: Change) => Promise<boolean>
}) {
  const [rows, setRows] = useState<Row[]>()
  const [problems, setProblems] = useState<string[]>([])
  const [failure, setFailure] = useState<Failure>()
  const [finding, setFinding] = useState(false)
  const [open, setOpen] = useState<Record<string, { device: Device; now?: Now; trouble?: string }>>({})
  const [done, setDone] = useState<Done[]>([])
  const [going, setGoing] = useState('')
  const [together, setTogether] = useState<components['schemas']['Together']>()
  const [waved, setWaved] = useState('')
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
    closeAll()
    setFinding(true)
    setFailure(undefined)
    try {
      const found = await inputs()
      setProblems(found.problems)
      const named = found.all
        .map((d) => ({ ...d, label: d.label || w.unnamed }))
        .sort((a, b) => b.kind.localeCompare(a.kind)) // pictures first
      const is = await api.inputsOf(rig.id, named)
      const known = ties(rig.id)
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

  const name = (row: Row, of: string) => {
    tie(rig.id, row.id, { of, label: row.label })
    setRows((was) => was?.map((r) => (r.id === row.id ? { ...r, of, why: w.tied } : r)))
  }

  const begin = async (row: Row): Promise<Device | undefined> => {
    const until = enough.current.signal
    const mine = (more: { now?: Now; trouble?: string }) =>
      setOpen((was) => (was[row.id] ? { ...was, [row.id]: { ...was[row.id]!, ...more } } : was))
    try {
      const d = await Device.open(
        rig.id,
        row.of || 'programme',
        row,
        row.ask,
        (now) => mine({ now, trouble: undefined }),
        (trouble) => mine({ trouble }),
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
      setDone((was) => [...was.filter((x) => x.key !== key), { key, label: row.label, looked }])
    } catch (e) {
      setFailure(e as Failure)
    }
    setOpen((was) => Object.fromEntries(Object.entries(was).filter(([id]) => id !== row.id)))
  }
  const lookAt = async (row: Row, seconds: number) => {
    const until = enough.current.signal
    setProblems([])
    const d = await begin(row)
    if (!d) return
    await wait(seconds, until)
    if (held.current.has(d)) await end(row, d, row.id)
  }
  const stopOne = (row: Row) => {
    const at = open[row.id]
    if (at && held.current.has(at.device)) void end(row, at.device, row.id)
  }

  const everything = async () => {
    closeAll()
    const until = enough.current.signal
    const all = rows!.filter((r) => r.of)
    setDone([])
    setTogether(undefined)
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
    if (pictures.length > 1) {
      setGoing(w.atOnce(pictures.length))
      const opened = await Promise.all(pictures.map((a) => begin(a.row)))
      await wait(each, until)
      if (until.aborted) return
      await Promise.all(opened.map((d, i) => d && end(pictures[i]!.row, d, `${pictures[i]!.row.id} beside`)))
      const both = pictures.flatMap((a, i) => (opened[i] ? [[a.look, opened[i].look] as const] : []))
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
  }

  const twins = rows?.filter((r) => r.twin) ?? []
  const watch = async () => {
    closeAll()
    const until = enough.current.signal
    setGoing(w.watching)
    const devices = (await Promise.all(twins.map(begin))).filter((d) => !!d)
    while (!until.aborted) {
      const told = await api.waved(devices.map((d) => d.look)).catch(() => undefined)
      const is = told?.sure && devices.find((d) => d.look === told.look)
      if (is) setWaved(is.input.id)
      await wait(0.5, until)
    }
  }

  const openOnes = Object.keys(open).length
  return (
    <section className="mb-8" data-testid="devices">
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.title}</h2>
      <p className="mt-2 max-w-2xl text-sm text-muted">{w.help}</p>
      {mayOpen() ? (
        <div className="mt-3 flex flex-wrap items-center gap-3">
          <button className="act" disabled={finding || choices.length === 0} onClick={() => void find()}>
            {rows ? w.again : w.begin}
          </button>
          {rows && rows.some((r) => r.of) && (
            <button className="act" disabled={!!going} onClick={() => void everything()}>
              {w.everything}
            </button>
          )}
          {rows && rows.some((r) => r.of) && <span className="text-sm text-muted">{w.everythingHelp}</span>}
        </div>
      ) : (
        <p className="mt-3 max-w-2xl border-l-4 border-untested pl-3">{w.insecure}</p>
      )}
      {finding && <p role="status">{w.finding}</p>}
      {problems.map((p) => (
        <p key={p} role="alert" className="mt-2 border-l-4 border-snapped pl-3">
          {p}
        </p>
      ))}
      {failure && <Problems error={failure} />}
      {openOnes > 0 && (
        <p
          role="status"
          className="sticky top-0 z-10 mt-3 flex flex-wrap items-center gap-3 border border-ink bg-paper px-3 py-2"
          data-testid="open-devices"
        >
          <span aria-hidden className="size-3 rounded-full bg-snapped" />
          <b>{w.openNow(openOnes)}</b>
          <span className="min-w-0 flex-1 truncate">{going}</span>
          <button className="act" onClick={closeAll}>
            {w.closeAll}
          </button>
        </p>
      )}
      {rows && rows.length === 0 && <p className="mt-3">{w.noInputs}</p>}
      {twins.length > 1 && (
        <p className="mt-3 flex flex-wrap items-center gap-3 border-l-4 border-untested pl-3">
          {w.twins(twins.length)}
          <button className="act" disabled={!!going} onClick={() => void watch()}>
            {w.watch}
          </button>
        </p>
      )}
      {rows && rows.length > 0 && (
        <ul className="mt-3">
          {rows.map((r) => (
            <DeviceRow
              key={r.id}
              row={r}
              choices={choices}
              at={open[r.id]}
              changes={waved === r.id}
              busy={!!going}
              name={(of) => name(r, of)}
              look={(seconds) => void lookAt(r, seconds)}
              stop={() => stopOne(r)}
            />
          ))}
        </ul>
      )}
      {together && <TogetherTable together={together} />}
      {done.map((d) => (
        <Report key={d.key} of={w.from(d.label)} looked={d.looked} keep={keep} />
      ))}
    </section>
  )
}

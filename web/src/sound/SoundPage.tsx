import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import {
  api,
  type Board,
  type Edit,
  type Failure,
  type Sounding,
  type SoundPath,
  type SoundWay,
} from '../api/client'
import { keys } from '../api/keys'
import { Problems } from '../parts/Frame'
import { Glyph } from '../parts/Rope'
import { Stated } from '../parts/Stated'
import { RigPage } from '../parts/RigPage'
import type { Change } from '../parts/change'
import { FactField } from '../shelf/FactField'
import { LimitCard } from '../tether/LimitCard'
import { words } from '../words'
import { Num } from '../parts/Field'
import { Claps } from './Claps'
import { Sync } from './Sync'
import { Ways } from './Ways'

const w = words.sound

type Keep = (c: Change) => void

/** How every voice gets to air: ways, delays, levels. */
export function SoundPage() {
  return (
    <RigPage title={w.title} line={(now) => <Line now={now} />}>
      {(now, save) => <Sound now={now} keep={save.mutate} />}
    </RigPage>
  )
}

const useSound = (now: Board) =>
  useQuery({
    queryKey: keys.sound(now.rig),
    queryFn: () => api.sound(now.rig),
    placeholderData: (was) => was,
    staleTime: Infinity,
  })

function Line({ now }: { now: Board }) {
  const { data } = useSound(now)
  if (!data) return words.board.loading
  if (!data.plan) return w.none
  const bad = data.limits.filter((l) => l.state !== 'slack')
  const worst = bad.find((l) => l.state === 'snapped') ?? bad.find((l) => l.state === 'kinked') ?? bad[0]
  return (
    <>
      <b>{w.settled}</b> {w.holds(data.limits.length - bad.length, data.limits.length)}
      {worst && (
        <>
          {' '}
          <b>{w.next}</b> {worst.what}.
        </>
      )}
    </>
  )
}

function Sound({ now, keep }: { now: Board; keep: Keep }) {
  const { data, error } = useSound(now)
  if (error && !data) return <Problems error={error as Failure} />
  if (!data) return <p role="status">{words.board.loading}</p>
  const free = now.newest && !now.frozen
  const paths = now.rig.sound?.paths ?? []
  const put = (next: SoundPath[], what: string) =>
    keep({ edits: [{ do: 'sound', sound: { ...now.rig.sound, paths: next } } as Edit], what })
  return (
    <div className="space-y-10">
      {data.plan ? (
        <>
          <Ways now={now} sound={data} />
          <div className="grid gap-x-10 gap-y-8 lg:grid-cols-2">
            <Delays now={now} sound={data} keep={free ? keep : undefined} />
            <Sync sound={data} />
          </div>
          <Levels sound={data} />
        </>
      ) : (
        <p>{w.noneHelp}</p>
      )}
      <section>
        <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.ways}</h2>
        {paths.map((p, i) => (
          <Path
            key={p.voice + p.from + i}
            now={now}
            path={p}
            at={i}
            save={keep}
            way={data.plan?.paths[i]}
            free={free}
            keep={(next, what) =>
              put(next ? paths.map((o, k) => (k === i ? next : o)) : paths.filter((_, k) => k !== i), what)
            }
          />
        ))}
        {free && <AddWay now={now} keep={keep} />}
      </section>
      <Room now={now} keep={keep} free={free} />
      {data.limits.length > 0 && (
        <section>
          <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.judged}</h2>
          <ul className="mt-2 space-y-2">
            {data.limits
              .filter((l) => l.state !== 'slack')
              .map((l) => (
                <li key={l.id}>
                  <LimitCard limit={l} />
                </li>
              ))}
          </ul>
          <details className="mt-2 text-sm">
            <summary className="cursor-pointer text-muted">{words.states.slack}</summary>
            <ul>
              {data.limits
                .filter((l) => l.state === 'slack')
                .map((l) => (
                  <li key={l.id}>{l.says}</li>
                ))}
            </ul>
          </details>
        </section>
      )}
      <p className="text-sm text-muted">
        {w.mixMinus} {w.hearing}
      </p>
    </div>
  )
}

const figure = (x: { low: number; value: number; high: number }) =>
  Math.round(x.low) === Math.round(x.high)
    ? signed(x.value)
    : `~${signed(x.value)} (${signed(x.low)} … ${signed(x.high)})`

const signed = (v: number) => String(Math.round(v)).replace('-', '−')

function Delays({ now, sound, keep }: { now: Board; sound: Sounding; keep?: Keep }) {
  const plan = sound.plan!
  const rows = [
    ...plan.paths
      .filter((p) => p.on === 'air')
      .map((p) => ({
        name: p.name,
        delay: p.delay,
        set: p.set,
        parts: p.parts,
        said: p.setSaid,
        next: sound.corrections.find((c) => c.index === p.index),
        shared: p.sharedWith,
      })),
    ...plan.pictures.map((p) => ({
      name: p.label,
      delay: p.delay,
      set: p.set,
      parts: p.parts,
      said: false,
      next: undefined,
      shared: undefined,
    })),
  ]
  return (
    <section data-testid="delays">
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.delays}</h2>
      <p className="text-sm text-muted">{w.delaysHelp}</p>
      <table className="mt-1 w-full text-sm">
        <thead className="text-left text-muted">
          <tr>
            <th className="font-normal">{w.of}</th>
            <th className="text-right font-normal">
              {w.takes}, {w.ms}
            </th>
            <th className="text-right font-normal">
              {w.set}, {w.ms}
            </th>
            <th className="text-right font-normal">{w.frames}</th>
            <th className="text-right font-normal">{w.samples}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.name} className="border-b border-hair align-top">
              <td className="py-1 pr-2">
                <details>
                  <summary className="cursor-pointer">{r.name}</summary>
                  <ul className="text-muted">
                    {r.parts.map((x, i) => (
                      <li key={i}>
                        {x.of}: {figure(x.ms)} ms, {x.why}
                        {keep && x.item && <Late now={now} item={x.item} keep={keep} />}
                      </li>
                    ))}
                  </ul>
                </details>
                {r.shared && r.shared.length > 0 && (
                  <p className="text-muted">{w.shared(r.shared.join(', '), r.set.ms)}</p>
                )}
              </td>
              <td className="py-1 text-right whitespace-nowrap tabular-nums">{figure(r.delay)}</td>
              <td className="py-1 text-right font-semibold tabular-nums">
                {r.set.ms}
                {r.said && <span className="font-normal text-muted"> {w.asSet}</span>}
                {r.next && keep && (
                  <button
                    className="quiet block w-full text-right font-normal"
                    onClick={() => keep({ edits: r.next!.edits, what: w.setTo(r.name, r.next!.ms) })}
                  >
                    {w.byClaps(r.next.ms)}
                  </button>
                )}
                {r.next && !keep && <span className="block font-normal">{w.byClaps(r.next.ms)}</span>}
              </td>
              <td className="py-1 text-right tabular-nums">{r.set.frames}</td>
              <td className="py-1 text-right tabular-nums">{r.set.samples}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

/** How late the picture is through one thing, where somebody has measured it. */
function Late({ now, item, keep }: { now: Board; item: string; keep: Keep }) {
  const it = now.rig.items.find((i) => i.id === item)
  if (!it) return null
  return (
    <FactField
      field="items/ID/pictureDelayMs"
      name={w.pictureLate}
      label={w.pictureLateOf(it.label)}
      fact={it.gear.pictureDelayMs}
      keep={(f, what) =>
        keep({
          edits: [{ do: 'fact', path: `items/${item}/pictureDelayMs`, fact: f } as Edit],
          what: `${it.label}: ${what}`,
        })
      }
    />
  )
}

function Levels({ sound }: { sound: Sounding }) {
  const rows = sound.plan!.paths.filter((p) => p.levels && p.on !== 'muted')
  if (rows.length === 0) return null
  const db = (x: { low: number; value: number; high: number }, unit: string) => `${figure(x)} ${unit}`
  return (
    <section>
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.levels}</h2>
      <p className="text-sm text-muted">{w.levelsHelp}</p>
      <p className="text-sm">
        {w.target(sound.plan!.target.lufs, sound.plan!.target.within, sound.plan!.target.peak)}{' '}
        <span className="text-muted">({sound.plan!.target.source})</span>
      </p>
      <div className="overflow-x-auto">
        <table className="mt-1 w-full text-sm">
          <thead className="text-left text-muted">
            <tr>
              {[w.of, w.spl, w.mean, w.toSet, w.peaks, w.headroomHere, w.noise].map((h) => (
                <th key={h} className="pr-4 font-normal">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((p) => (
              <tr key={p.name} className="border-b border-hair">
                <td className="py-1 pr-4">{p.name}</td>
                <td className="pr-4 whitespace-nowrap">{db(p.levels!.spl, 'dB SPL')}</td>
                <td className="pr-4 whitespace-nowrap">{db(p.levels!.mean, 'dBu')}</td>
                <td className="pr-4 font-semibold whitespace-nowrap">{db(p.levels!.gain, 'dB')}</td>
                <td className="pr-4 whitespace-nowrap">{db(p.levels!.peak, 'dBFS')}</td>
                <td className="pr-4 whitespace-nowrap">{db(p.levels!.headroom, 'dB')}</td>
                <td className="whitespace-nowrap">{db(p.levels!.noise, 'dB')}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  )
}

function Path(p: {
  now: Board
  path: SoundPath
  at: number
  save: Keep
  way?: SoundWay
  free: boolean
  keep: (next: SoundPath | undefined, what: string) => void
}) {
  const { path, way } = p
  const name = way?.name ?? path.voice
  const limit = p.now.verdict.limits.find((l) => l.id.startsWith(`lip-sync:${path.from}:`))
  const number = (key: 'gainDb' | 'delayMs', label: string) => (
    <label className="text-sm">
      <span className="block text-muted">{label}</span>
      <Num
        name={`${name}: ${label}`}
        unit={key === 'delayMs' ? 'ms' : 'dB'}
        disabled={!p.free}
        value={path[key]}
        placeholder={key === 'delayMs' && way ? String(way.set.ms) : ''}
        keep={(v) => v !== path[key] && p.keep({ ...path, [key]: v }, `${name}: ${label}`)}
      />
    </label>
  )
  return (
    <details className="border-b border-hair py-2" data-way={path.from}>
      <summary className="flex cursor-pointer flex-wrap items-center gap-x-3">
        <Glyph state={way?.on === 'air' ? (limit?.state ?? 'slack') : 'slack'} />
        <b>{name}</b>
        <span>
          {w.on[way?.on ?? path.on ?? 'air']}
          {way?.proposed && <span className="text-muted"> ({w.proposed})</span>}
        </span>
        {way && way.on !== 'muted' && <span className="text-muted">{w.listed(way.listedAs)}</span>}
      </summary>
      <div className="mt-2 grid gap-x-8 gap-y-2 md:grid-cols-2">
        <div className="flex flex-wrap gap-4">
          <label className="text-sm">
            <span className="block text-muted">{w.goes}</span>
            <select
              className="field"
              aria-label={name}
              disabled={!p.free}
              value={path.on ?? ''}
              onChange={(e) =>
                p.keep(
                  { ...path, on: (e.target.value || undefined) as SoundPath['on'] },
                  `${name}: ${w.on[e.target.value] ?? w.proposed}`,
                )
              }
            >
              <option value="">
                {w.proposed}
                {way?.proposed ? `: ${w.on[way.on]}` : ''}
              </option>
              {(['air', 'muted', 'track'] as const).map((o) => (
                <option key={o} value={o}>
                  {w.on[o]}
                </option>
              ))}
            </select>
          </label>
          <label className="text-sm">
            <span className="block text-muted">{w.loud}</span>
            <select
              className="field"
              disabled={!p.free}
              value={path.loud ?? ''}
              onChange={(e) =>
                p.keep(
                  { ...path, loud: (e.target.value || undefined) as SoundPath['loud'] },
                  `${name}: ${w.loud}`,
                )
              }
            >
              {Object.entries(w.louds).map(([k, label]) => (
                <option key={k} value={k}>
                  {label}
                </option>
              ))}
            </select>
          </label>
          {way?.plug && (
            <label className="text-sm">
              <span className="block text-muted">
                {w.inputOf(p.now.rig.items.find((i) => i.id === way.plug!.item)?.label ?? way.plug.item)}
              </span>
              <Num
                name={`${name}: ${w.input}`}
                low={1}
                high={64}
                whole
                width="w-16"
                disabled={!p.free}
                value={path.input}
                placeholder={String(way.plug.number)}
                keep={(v) => p.keep({ ...path, input: v }, `${name}: ${w.input} ${v ?? w.proposed}`)}
              />
            </label>
          )}
          {number('gainDb', w.gain)}
          {number('delayMs', w.delay)}
        </div>
        <div>
          <FactField
            field="sound/paths/N/distanceM"
            name={w.distance}
            fact={path.distanceM}
            keep={(f, what) => p.keep({ ...path, distanceM: f }, what)}
          />
          <FactField
            field="sound/paths/N/offsetMs"
            name={w.offset}
            fact={path.offsetMs}
            keep={(f, what) =>
              p.keep({ ...path, offsetMs: f, delayMs: path.delayMs ?? (f && way?.set.ms) }, what)
            }
          />
          {p.free && (
            <Claps
              said={path.delayMs}
              proposed={way?.set.ms ?? 0}
              keep={(f, delayMs, what) => p.keep({ ...path, offsetMs: f, delayMs }, `${name}: ${what}`)}
            />
          )}
          <FactField
            field="sound/paths/N/headroomDb"
            name={w.headroom}
            fact={path.headroomDb}
            keep={(f, what) => p.keep({ ...path, headroomDb: f }, what)}
          />
          <FactField
            field="sound/paths/N/noiseDb"
            name={w.noiseUnder}
            fact={path.noiseDb}
            keep={(f, what) => p.keep({ ...path, noiseDb: f }, what)}
          />
          <FactField
            field="sound/paths/N/nextM"
            name={w.nextOpen}
            fact={path.nextM}
            keep={(f, what) => p.keep({ ...path, nextM: f }, what)}
          />
          {p.free &&
            (['middle', 'hum', 'pad', 'oneLeg'] as const).map((of) => (
              <Stated
                key={of}
                name={w.said[of]}
                field={`sound/paths/N/${of}`}
                path={`sound/paths/${p.at}/${of}`}
                word={path[of]}
                save={p.save}
              />
            ))}
        </div>
        {p.free && (
          <p>
            <button className="quiet text-sm" onClick={() => p.keep(undefined, `${name}: ${w.remove}`)}>
              {w.remove}
            </button>
          </p>
        )}
      </div>
    </details>
  )
}

const picksUp = new Set([
  'microphone',
  'camera',
  'phone',
  'webcam',
  'computer',
  'player',
  'console',
  'mixer',
  'audio-interface',
  'wireless-sound',
])
const passes = new Set([
  'audio-interface',
  'mixer',
  'wireless-sound',
  'switcher',
  'camera',
  'recorder',
  'capture',
])

function AddWay({ now, keep }: { now: Board; keep: Keep }) {
  const [voice, setVoice] = useState('')
  const [from, setFrom] = useState('')
  const [via, setVia] = useState('')
  const items = now.rig.items
  const shelf = useQuery({ queryKey: keys.shelf, queryFn: () => api.shelf() })
  const add = useMutation({
    mutationFn: async () => {
      let edits: Edit[] = []
      let picked = from
      if (from.startsWith(ofShelf)) {
        // It comes into the rig first, with its leads; then it is whose voice it picks up.
        const done = await api.act(now.rig, { do: 'more', entry: from.slice(ofShelf.length), count: 1 })
        edits = done.edits
        picked = done.edits.find((e) => e.do === 'add')?.newItem?.id ?? ''
      }
      const path = { voice: voice.trim(), from: picked, ...(via ? { via: [via] } : {}) }
      const sound = {
        ...now.rig.sound,
        paths: [...(now.rig.sound?.paths ?? []), path],
      }
      return { edits: [...edits, { do: 'sound', sound } as Edit], what: `${path.voice}: ${w.add}` }
    },
    onSuccess: (c) => {
      keep(c)
      setVoice('')
      setFrom('')
      setVia('')
    },
  })
  return (
    <form
      className="mt-3 flex flex-wrap items-end gap-3"
      onSubmit={(e) => {
        e.preventDefault()
        if (voice.trim() && from) add.mutate()
      }}
    >
      <label className="text-sm">
        <span className="block text-muted">{w.voice}</span>
        <input className="field" maxLength={120} value={voice} onChange={(e) => setVoice(e.target.value)} />
      </label>
      <Choose
        label={w.from}
        value={from}
        set={setFrom}
        of={items.filter((i) => picksUp.has(i.gear.kind))}
        shelf={(shelf.data ?? [])
          .filter((s) => s.entry.gear.sound?.microphone)
          .map((s) => ({ id: ofShelf + s.entry.id, label: s.entry.gear.name }))}
      />
      <Choose
        label={w.via}
        value={via}
        set={setVia}
        of={items.filter((i) => passes.has(i.gear.kind) && i.id !== from)}
      />
      <button className="act" disabled={add.isPending}>
        {w.add}
      </button>
      {add.error && <Problems error={add.error as Failure} />}
    </form>
  )
}

const ofShelf = 'shelf:'

function Choose(p: {
  label: string
  value: string
  set: (v: string) => void
  of: { id: string; label: string }[]
  shelf?: { id: string; label: string }[]
}) {
  return (
    <label className="text-sm">
      <span className="block text-muted">{p.label}</span>
      <select className="field max-w-56" value={p.value} onChange={(e) => p.set(e.target.value)}>
        <option value="">–</option>
        {p.of.map((i) => (
          <option key={i.id} value={i.id}>
            {i.label}
          </option>
        ))}
        {!!p.shelf?.length && (
          <optgroup label={w.fromShelf}>
            {p.shelf.map((i) => (
              <option key={i.id} value={i.id}>
                {i.label}
              </option>
            ))}
          </optgroup>
        )}
      </select>
    </label>
  )
}

function Room({ now, keep, free }: { now: Board; keep: Keep; free: boolean }) {
  const sound = now.rig.sound
  if (!sound) return null
  const put = (next: Partial<typeof sound>, what: string) =>
    keep({ edits: [{ do: 'sound', sound: { ...sound, ...next } } as Edit], what })
  return (
    <section>
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.room}</h2>
      <div className="mt-2 flex flex-wrap gap-6">
        <label className="text-sm">
          <span className="block text-muted">{w.loudspeakers}</span>
          <select
            className="field"
            disabled={!free}
            value={sound.loudspeakers ?? ''}
            onChange={(e) => put({ loudspeakers: (e.target.value || undefined) as 'yes' }, w.loudspeakers)}
          >
            <option value="">{w.notSaid}</option>
            <option value="yes">{w.yes}</option>
            <option value="no">{w.no}</option>
          </select>
        </label>
        <label className="text-sm">
          <span className="block text-muted">{w.loudness}</span>
          <select
            className="field"
            disabled={!free}
            value={String(sound.targetLufs ?? 0)}
            onChange={(e) => put({ targetLufs: Number(e.target.value) || undefined }, w.loudness)}
          >
            {Object.entries(w.kinds).map(([k, label]) => (
              <option key={k} value={k}>
                {label}
              </option>
            ))}
            {sound.targetLufs && !(String(sound.targetLufs) in w.kinds) ? (
              <option value={String(sound.targetLufs)}>{sound.targetLufs} LUFS</option>
            ) : null}
          </select>
        </label>
        <label className="text-sm">
          <span className="block text-muted">{w.monitor}</span>
          <select
            className="field"
            disabled={!free}
            value={sound.monitor ?? ''}
            onChange={(e) => put({ monitor: (e.target.value || undefined) as 'none' }, w.monitor)}
          >
            {Object.entries(w.monitors).map(([k, label]) => (
              <option key={k} value={k}>
                {label}
              </option>
            ))}
          </select>
        </label>
      </div>
    </section>
  )
}

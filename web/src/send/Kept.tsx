import { useState } from 'react'
import { Num } from '../parts/Field'
import { api, type Board, type Edit, type Failure, type Sending } from '../api/client'
import { Problems } from '../parts/Frame'
import { StateWord } from '../parts/StateWord'
import type { Change } from '../parts/change'
import { words } from '../words'
import { LimitLine } from './Computer'
import type { Hold } from './hold'

const w = words.send

type RecordingOf = NonNullable<Board['rig']['show']['recordings']>[number]

/** The third thing: what is kept, where, and what becomes of it afterwards. */
export function Kept({
  now,
  send,
  hold,
  keep,
  free,
}: {
  now: Board
  send: Sending
  hold: Hold
  keep: (c: Change) => void
  free: boolean
}) {
  const recordings = now.rig.show.recordings ?? []
  const outs = send.outs.filter((o) => o.kind === 'recording')
  const drives = send.limits.filter(
    (l) => l.rule === 'drive-write' || l.rule === 'drive-space' || l.rule === 'file-end',
  )
  return (
    <section aria-labelledby="kept">
      <h2 id="kept" className="border-b border-ink pb-1 font-semibold">
        {w.kept}
      </h2>
      {recordings.length === 0 && <p className="py-2 text-sm text-muted">{w.nothingKept}</p>}
      {recordings.map((r, i) => (
        <One
          key={i}
          i={i}
          r={r}
          out={outs[i]}
          drives={now.rig.items.filter((it) => it.gear.kind === 'drive' || it.gear.kind === 'recorder')}
          send={send}
          hold={hold}
          keep={keep}
          free={free}
        />
      ))}
      {drives.map((l) => (
        <LimitLine key={l.id} limit={l} />
      ))}
    </section>
  )
}

function One({
  i,
  r,
  out,
  drives,
  send,
  hold,
  keep,
  free,
}: {
  i: number
  r: RecordingOf
  out?: Sending['outs'][number]
  drives: Board['rig']['items']
  send: Sending
  hold: Hold
  keep: (c: Change) => void
  free: boolean
}) {
  const later = send.plan.later[i]
  const care = send.limits.find((l) => l.id === `container:${i}`)
  const part = send.sheet.parts.find((p) => p.id === `recording-${i}`)
  const value = (id: string) => part?.lines.find((l) => l.id === id)?.value ?? ''
  const word = (field: string, v: string, what: string) =>
    hold(`recording:${i}:${field}`, {
      edits: [{ do: 'word', path: `show/recordings/${i}/${field}`, word: v } as Edit],
      what,
    })
  const byComputer = !!value('container')
  return (
    <article className="border-b border-hair py-2 text-sm" data-recording={i}>
      <p className="text-base">
        <b>{out?.label}</b> <span className="text-muted">{out?.detail}</span>
      </p>
      {byComputer && (
        <p className="mt-1 flex flex-wrap items-center gap-3">
          <select
            className="field"
            aria-label={`${w.container} ${i + 1}`}
            disabled={!free}
            value={r.container ?? 'fmp4'}
            onChange={(e) =>
              word('container', e.target.value, `${w.container}: ${w.containers[e.target.value]}`)
            }
          >
            {Object.entries(w.containers).map(([v, label]) => (
              <option key={v} value={v}>
                {label}
              </option>
            ))}
          </select>
          {drives.length > 0 && (
            <select
              className="field"
              aria-label={`${w.drive} ${i + 1}`}
              disabled={!free}
              value={r.drive ?? ''}
              onChange={(e) =>
                word('drive', e.target.value, `${w.drive}: ${e.target.selectedOptions[0]!.text}`)
              }
            >
              <option value="">{w.ownDrive}</option>
              {drives.map((d) => (
                <option key={d.id} value={d.id}>
                  {d.label}
                </option>
              ))}
            </select>
          )}
          <select
            className="field"
            aria-label={`${w.coder} ${i + 1}`}
            disabled={!free}
            value={r.encoder ?? ''}
            onChange={(e) =>
              e.target.value && word('encoder', e.target.value, `${w.coder}: ${e.target.value}`)
            }
          >
            {r.encoder ? null : <option value="">{`${w.best}: ${value('preset')}`}</option>}
            <option value="stream">{w.asStream}</option>
            {['hardware', 'ultrafast', 'superfast', 'veryfast', 'faster', 'fast', 'medium', 'slow'].map(
              (c) => (
                <option key={c} value={c}>
                  {c === 'hardware' ? w.hardware : c}
                </option>
              ),
            )}
          </select>
        </p>
      )}
      {r.inCamera && (
        <p className="mt-1 flex flex-wrap items-baseline gap-2">
          <select
            className="field"
            aria-label={`${w.raw} ${i + 1}`}
            disabled={!free}
            value={String(r.rawBits ?? 0)}
            onChange={(e) =>
              word('rawBits', e.target.value, `${w.raw}: ${e.target.selectedOptions[0]!.text}`)
            }
          >
            {[0, 10, 12, 14, 16].map((bits) => (
              <option key={bits} value={bits}>
                {bits === 0 ? w.notRaw : w.rawBits(bits)}
              </option>
            ))}
          </select>
          {!!r.rawBits && (
            <Num
              name={`${w.rawRatio} ${i + 1}`}
              unit={w.toOne}
              width="w-16"
              value={r.rawRatio}
              keep={(v) => word('rawRatio', String(v ?? 1), `${w.rawRatio}: ${v ?? 1}:1`)}
            />
          )}
        </p>
      )}
      {care && care.state !== 'slack' && (
        <p className="mt-1">
          <StateWord state={care.state} /> {care.says}
        </p>
      )}
      {later && <p className="mt-1">{later.words}</p>}
      {free && <Anchor i={i} keep={keep} known={r.kbps !== undefined} />}
    </article>
  )
}

type Film = Awaited<ReturnType<typeof api.readRecording>>

/** A test recording says what constant quality comes to here: read from the file, by size and time. */
function Anchor({ i, keep, known }: { i: number; keep: (c: Change) => void; known: boolean }) {
  const [path, setPath] = useState('')
  const [film, setFilm] = useState<Film>()
  const [wrong, setWrong] = useState<Failure>()
  const [typed, setTyped] = useState<{ mb?: number; minutes?: number; mbps?: number }>({})
  const ask = (body: Parameters<typeof api.readRecording>[0]) =>
    api
      .readRecording(body)
      .then((f) => {
        setFilm(f)
        setWrong(undefined)
      })
      .catch((x: Failure) => setWrong(x))
  const type = (part: typeof typed) => {
    const now = { ...typed, ...part }
    setTyped(now)
    if (now.mb && now.minutes) void ask({ mb: now.mb, minutes: now.minutes, declaredKbps: now.mbps })
  }
  return (
    <details className="mt-1">
      <summary className="cursor-pointer text-muted">{known ? w.anchored : w.anchor}</summary>
      <form
        className="mt-1 flex flex-wrap items-center gap-2"
        onSubmit={(e) => {
          e.preventDefault()
          void ask({ path })
        }}
      >
        <input
          className="field min-w-0 flex-1"
          aria-label={w.film}
          placeholder={w.film}
          value={path}
          onChange={(e) => setPath(e.target.value)}
        />
        <button className="act" disabled={!path.trim()}>
          {w.readFilm}
        </button>
      </form>
      <p className="mt-1 flex flex-wrap items-baseline gap-2">
        {w.orTyped}
        <Num
          name={`${w.filmMB} ${i + 1}`}
          unit="MB"
          width="w-20"
          value={typed.mb}
          keep={(v) => type({ mb: v })}
        />
        <Num
          name={`${w.filmMinutes} ${i + 1}`}
          unit="min"
          width="w-16"
          value={typed.minutes}
          keep={(v) => type({ minutes: v })}
        />
        <Num
          name={`${w.filmShows} ${i + 1}`}
          unit={w.filmShowsUnit}
          width="w-20"
          value={typed.mbps}
          keep={(v) => type({ mbps: v })}
        />
      </p>
      {wrong && <Problems error={wrong} />}
      {film && (
        <p className="mt-1">
          {w.filmIs(film.kbps, film.declaredKbps, film.agrees, film.bitsAPixel)}{' '}
          <button
            className="act"
            onClick={() =>
              keep({
                edits: [
                  {
                    do: 'fact',
                    path: `show/recordings/${i}/kbps`,
                    fact: { value: film.kbps, from: 'measured', at: new Date().toISOString().slice(0, 10) },
                  } as Edit,
                ],
                what: w.tookFilm(film.kbps),
              })
            }
          >
            {w.takeFilm}
          </button>
        </p>
      )}
    </details>
  )
}

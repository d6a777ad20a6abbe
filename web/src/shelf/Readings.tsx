import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type EDIDRead, type Failure, type FormatsRead, type Gear } from '../api/client'
import { Problems } from '../parts/Frame'
import { words } from '../words'

const w = words.shelf

/** Reads what a device says of itself: its EDID for what it takes, a listing for what it delivers; before and after. */
export function Readings({ gear, keep }: { gear: Gear; keep: (g: Gear, what: string) => void }) {
  const inputs = gear.ports?.filter((p) => p.direction === 'in') ?? []
  const [port, setPort] = useState(inputs[0]?.id ?? '')
  const [over, setOver] = useState(false)
  const [text, setText] = useState('')
  const today = new Date().toISOString().slice(0, 10)
  const edid = useMutation({
    mutationFn: async (files: File[]) =>
      api.readEDID(
        await Promise.all(files.map(async (f) => ({ name: f.name, data: base64(await f.arrayBuffer()) }))),
        inputs.length ? gear : undefined,
        port || undefined,
        today,
      ),
  })
  const formats = useMutation({ mutationFn: (t: string) => api.readFormats(t, gear) })
  const delivers = ['capture', 'switcher', 'card', 'camera', 'webcam', 'phone'].includes(gear.kind)
  if (!inputs.length && !delivers) return null
  return (
    <section>
      <h2 className="border-b border-ink pb-1 font-semibold">{w.readings}</h2>
      {inputs.length > 0 && (
        <div
          className={`mt-2 border-2 border-dashed p-3 text-sm ${over ? 'border-ink bg-wash' : 'border-hair'}`}
          data-testid="drop"
          onDragOver={(e) => {
            e.preventDefault()
            setOver(true)
          }}
          onDragLeave={() => setOver(false)}
          onDrop={(e) => {
            e.preventDefault()
            setOver(false)
            edid.mutate([...e.dataTransfer.files])
          }}
        >
          <p>{w.dropEDID}</p>
          <div className="mt-2 flex flex-wrap items-center gap-3">
            <label className="act cursor-pointer focus-within:outline-2">
              {w.chooseEDID}
              <input
                type="file"
                multiple
                className="sr-only"
                aria-label={w.chooseEDID}
                onChange={(e) => {
                  if (e.target.files?.length) edid.mutate([...e.target.files])
                  e.target.value = ''
                }}
              />
            </label>
            {inputs.length > 1 && (
              <select
                className="field"
                aria-label={w.forInput}
                value={port}
                onChange={(e) => setPort(e.target.value)}
              >
                {inputs.map((p) => (
                  <option key={p.id} value={p.id}>
                    {p.label || p.id}
                  </option>
                ))}
              </select>
            )}
          </div>
        </div>
      )}
      {edid.error && <Problems error={edid.error as Failure} />}
      {edid.data?.map((r) => (
        <Read
          key={r.name}
          read={r}
          keep={() => {
            keep(r.gear!, w.fromEDID(r.name))
            edid.reset()
          }}
        />
      ))}
      {delivers && (
        <details className="mt-3 text-sm">
          <summary>{w.listing}</summary>
          <p className="mt-1 text-xs text-muted">{w.listingHelp}</p>
          <textarea
            className="field mt-1 w-full font-mono text-xs"
            rows={6}
            aria-label={w.listing}
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <button className="act mt-1 text-sm" disabled={!text.trim()} onClick={() => formats.mutate(text)}>
            {w.readIt}
          </button>
          {formats.error && <Problems error={formats.error as Failure} />}
          {formats.data && (
            <ListingRead
              read={formats.data}
              keep={() => {
                keep(formats.data.gear!, w.fromListing)
                formats.reset()
                setText('')
              }}
            />
          )}
        </details>
      )}
    </section>
  )
}

function base64(buffer: ArrayBuffer): string {
  let s = ''
  for (const b of new Uint8Array(buffer)) s += String.fromCharCode(b)
  return btoa(s)
}

/** What one EDID says, and what the input's list would become. */
function Read({ read: r, keep }: { read: EDIDRead; keep: () => void }) {
  const e = r.reading
  return (
    <div className="mt-3 border-l-2 border-ink pl-3 text-sm" data-testid="edid-read">
      <p className="font-semibold">
        {r.name}: {e.maker} {e.name}
      </p>
      {!e.valid && (
        <p role="alert" className="text-snapped">
          {e.modes.length ? w.partial : w.unusable} {w.byte} {e.offset}: {e.reason}
        </p>
      )}
      {e.warnings.map((t, i) => (
        <p key={i} className="text-taut">
          {t}
        </p>
      ))}
      {e.unknownBlocks.length > 0 && (
        <p className="text-muted">
          {w.unknownBlocks} {e.unknownBlocks.map((u) => u.name).join(', ')}
        </p>
      )}
      {r.after.length > 0 && <BeforeAfter before={r.before} after={r.after} />}
      {r.gear && r.after.length > 0 && (
        <button className="act mt-1" onClick={keep}>
          {e.valid ? w.takeList : w.takePartial}
        </button>
      )}
    </div>
  )
}

function ListingRead({ read: r, keep }: { read: FormatsRead; keep: () => void }) {
  return (
    <div className="mt-2 border-l-2 border-ink pl-3" data-testid="formats-read">
      {r.listing.incomplete && (
        <>
          <p role="alert" className="text-snapped">
            {w.partial}
          </p>
          {r.listing.problems.map((p, i) => (
            <p key={i} className="text-taut">
              {w.line} {p.line}: {p.text}
            </p>
          ))}
        </>
      )}
      {r.left.length > 0 && (
        <p className="text-muted">
          {w.leftOut} {r.left.join(', ')}
        </p>
      )}
      <BeforeAfter before={r.before} after={r.after} />
      {r.after.length > 0 && (
        <button className="act mt-1" onClick={keep}>
          {r.listing.incomplete ? w.takePartial : w.takeList}
        </button>
      )}
    </div>
  )
}

function BeforeAfter({ before, after }: { before: string[]; after: string[] }) {
  const list = (title: string, items: string[], mark: (t: string) => string | undefined) => (
    <div>
      <p className="text-xs text-muted">{title}</p>
      <ul>
        {items.map((t) => (
          <li key={t} className={mark(t) ? 'font-semibold' : ''}>
            {t} {mark(t) && <span className="text-xs font-normal text-muted">{mark(t)}</span>}
          </li>
        ))}
        {items.length === 0 && <li className="text-muted">{w.emptyList}</li>}
      </ul>
    </div>
  )
  return (
    <div className="mt-1 grid max-h-64 grid-cols-2 gap-4 overflow-y-auto">
      {list(w.before, before, (t) => (after.includes(t) ? undefined : w.goes))}
      {list(w.after, after, (t) => (before.includes(t) ? undefined : w.comesNew))}
    </div>
  )
}

import { memo, useState } from 'react'
import type { Item, Rig, Verdict } from '../api/client'
import type { Change } from '../parts/change'
import { words } from '../words'
import { PutIn } from './PutIn'
import { beside, socketsOf } from './sockets'
import { Plug } from './SocketList'

const w = words.bench

const sources = ['camera', 'phone', 'webcam', 'console', 'player', 'computer']

/** One more source: a dashed tether under the last one. */
export function MoreSource({ rig, add }: { rig: Rig; add: (c: Change) => void }) {
  const [open, setOpen] = useState(false)
  return (
    <div className="mt-1" data-testid="more-source">
      <button
        className="flex w-full items-center gap-3 py-2 text-left hover:bg-wash"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        <svg width="120" height="20" viewBox="0 0 120 20" aria-hidden="true" className="shrink-0">
          <circle cx="10" cy="7" r="7" fill="none" stroke="var(--muted)" strokeDasharray="3 3" />
          <path
            d="M18 7C40 20 95 20 118 7"
            fill="none"
            stroke="var(--muted)"
            strokeWidth="2"
            strokeDasharray="5 5"
          />
        </svg>
        <span className="font-semibold">{w.moreSource}</span>
        <span className="text-sm text-muted max-sm:hidden">{w.moreSourceHelp}</span>
      </button>
      <PutIn
        rig={rig}
        add={add}
        kinds={[...sources, 'switcher', 'capture', 'card']}
        title={w.moreTitle}
        open={open}
        close={() => setOpen(false)}
      />
    </div>
  )
}

/** The way to put in a kind of thing that is said to be used and is not there. */
export function Missing({ rig, kind, add }: { rig: Rig; kind: string; add: (c: Change) => void }) {
  const [open, setOpen] = useState(false)
  return (
    <div data-testid="missing">
      <button className="act mt-1" aria-expanded={open} onClick={() => setOpen(!open)}>
        {w.addMissing(w.kind(kind))}
      </button>
      <PutIn
        rig={rig}
        add={add}
        kinds={[kind]}
        title={w.besideTitle}
        open={open}
        close={() => setOpen(false)}
      />
    </div>
  )
}

/** What stands beside the tethers, drawn with its plugs: added, opened, taken out like everything else. */
export const Beside = memo(function Beside({
  rig,
  verdict,
  open,
  add,
}: {
  rig: Rig
  verdict: Verdict
  open: (item: string) => void
  add?: (c: Change) => void
}) {
  const [more, setMore] = useState(false)
  const passed = new Set(
    verdict.feeds.flatMap((f) => f.hops.filter((h) => h.kind !== 'lead').map((h) => h.ref.split('.')[0]!)),
  )
  const stands = beside(rig, passed)
  const hubs = rig.items.filter(
    (i) => !stands.includes(i) && i.role !== 'source' && /^(computer|hub|dock|switcher)$/.test(i.gear.kind),
  )
  return (
    <section className="mt-6" data-testid="beside">
      <h2 className="border-b border-ink pb-1 font-semibold">{w.beside}</h2>
      <ul className="mt-2 flex flex-wrap gap-x-8 gap-y-2">
        {[...hubs, ...stands].map((i) => (
          <li key={i.id} className="max-w-full min-w-0">
            <Standing rig={rig} item={i} open={() => open(i.id)} />
          </li>
        ))}
        {add && (
          <li>
            <button className="act" aria-expanded={more} onClick={() => setMore(!more)}>
              {w.moreBeside}
            </button>
          </li>
        )}
      </ul>
      {stands.length === 0 && hubs.length === 0 && <p className="text-sm text-muted">{w.nothingBeside}</p>}
      {add && <PutIn rig={rig} add={add} title={w.besideTitle} open={more} close={() => setMore(false)} />}
    </section>
  )
})

/** One thing with its sockets: filled ones are in use. */
function Standing({ rig, item, open }: { rig: Rig; item: Item; open: () => void }) {
  const sockets = socketsOf(rig, item)
  const loose = sockets.length > 0 && sockets.every((s) => !s.lead)
  return (
    <button
      className="max-w-full rounded px-1 text-left text-[13px] leading-4 hover:bg-wash"
      data-beside={item.id}
      onClick={open}
    >
      <span className="block font-semibold [overflow-wrap:anywhere]">{item.label}</span>
      <span className="flex flex-wrap items-center gap-1">
        {sockets.slice(0, 12).map((s) => (
          <Plug key={s.ref} taken={!!s.lead} />
        ))}
        <span className="text-xs text-muted">
          {loose
            ? w.loose
            : sockets.length
              ? w.free(sockets.filter((s) => !s.lead).length)
              : w.kind(item.gear.kind)}
        </span>
      </span>
    </button>
  )
}

import { useState } from 'react'
import type { TreeRow } from '../api/client'
import { Glyph } from '../parts/Rope'
import { StateWord } from '../parts/StateWord'
import { LimitCard } from '../tether/LimitCard'
import { BeadLine } from '../tether/SharedLimits'
import { words } from '../words'

const w = words.ports

/** The tree of controllers, hubs and sockets; what is shared is drawn as a line with a bead for each load. */
export function Tree({ title, rows, moved }: { title: string; rows: TreeRow[]; moved: string[] }) {
  return (
    <section className="min-w-0">
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{title}</h2>
      <ul>
        {rows.map((r) => (
          <Line key={r.ref + r.kind} row={r} moved={!!r.lead && moved.includes(r.lead)} />
        ))}
      </ul>
    </section>
  )
}

function Line({ row: r, moved }: { row: TreeRow; moved: boolean }) {
  const [open, setOpen] = useState(false)
  const drawn = r.limits.filter((l) => l.shared && l.sense === 'at-most')
  const said = r.limits.filter((l) => !drawn.includes(l) && l.state !== 'slack')
  const head = r.kind === 'computer' || r.kind === 'controller'
  return (
    <li
      className={`border-b border-hair py-1.5 ${moved ? 'bg-wash' : ''}`}
      style={{ paddingLeft: `${r.depth * 20}px` }}
      data-ref={r.ref}
      data-state={r.state}
    >
      <div className="flex flex-wrap items-center gap-x-3">
        <span className={head ? 'font-semibold' : ''}>{r.label}</span>
        {r.speed && <span className="text-sm text-muted">{r.speed}</span>}
        {r.plugged ? (
          <span className="min-w-0 font-semibold">
            <span aria-hidden="true">← </span>
            {r.plugged}
            {moved && <span className="ml-2 text-sm font-normal text-slack">{w.moved}</span>}
          </span>
        ) : (
          !head && r.kind !== 'hub' && <span className="text-sm text-muted">{w.empty}</span>
        )}
        {r.limits.length > 0 && (
          <button
            className="ml-auto flex items-center gap-2 text-sm hover:underline"
            aria-expanded={open}
            aria-label={`${w.opens}: ${r.label}`}
            onClick={() => setOpen(!open)}
          >
            <Glyph state={r.state} room={Math.max(0, 1 - Math.max(...r.limits.map((l) => l.ratio.high)))} />
            <StateWord state={r.state} />
          </button>
        )}
      </div>
      {drawn.map((l) => (
        <div key={l.id} className="grid grid-cols-[minmax(0,1fr)_176px] items-center gap-4 max-sm:block">
          <p className="text-[13px] leading-4 text-muted">
            {l.share && <b className="font-semibold">{l.share} · </b>}
            {l.says}
          </p>
          <BeadLine limit={l} />
        </div>
      ))}
      {said.map((l) => (
        <p key={l.id} className="text-[13px] leading-4">
          <StateWord state={l.state} /> {l.says}
        </p>
      ))}
      {open && (
        <div className="mb-3 border-l-2 border-ink bg-sheet px-4 pb-3">
          {r.limits.map((l) => (
            <LimitCard key={l.id} limit={l} />
          ))}
        </div>
      )}
    </li>
  )
}

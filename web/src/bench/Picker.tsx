import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Act, type Failure, type Offer, type Rig } from '../api/client'
import { keys } from '../api/keys'
import { Problems } from '../parts/Frame'
import { StateWord } from '../parts/StateWord'
import { words } from '../words'

const w = words.bench

/** What was typed: "3 x camera" is three of what is called camera. */
export function typed(text: string): { count: number; find: string } {
  const m = /^\s*(\d{1,2})\s*(?:[x×*]\s*|\s+)(.*)$/i.exec(text)
  return m ? { count: Math.min(12, Math.max(1, Number(m[1]))), find: m[2]! } : { count: 1, find: text }
}

/** Whether every word that was typed stands in a name or its kind. */
export function matches(name: string, kind: string, find: string): boolean {
  const all = `${name} ${kind}`.toLowerCase()
  return find
    .toLowerCase()
    .split(/\s+/)
    .every((part) => all.includes(part))
}

/** How near a name is to what was typed: the same, begins so, has it within. */
function near(name: string, find: string): number {
  const [a, b] = [name.toLowerCase(), find.trim().toLowerCase()]
  return b === '' || a === b ? 0 : a.startsWith(b) ? 1 : 2
}

/** The shelf in place: what is owned first, found by typing, each with what it would do here. */
export function Picker(p: {
  rig: Rig
  act: Act
  /** Only these kinds. */
  kinds?: readonly string[]
  title: string
  pick: (act: Act) => void
  close: () => void
  busy?: boolean
}) {
  const [text, setText] = useState('')
  const [alike, setAlike] = useState(false)
  const { count, find } = typed(text)
  const offers = useQuery({
    queryKey: keys.offers(p.rig, p.act),
    queryFn: ({ signal }) => api.offers(p.rig, p.act, signal),
    staleTime: Infinity,
    placeholderData: (was) => was,
  })
  const several = p.act.do === 'more'
  const here = p.rig.items.find((i) => i.id === p.act.at)
  const twins =
    p.act.do === 'replace' || p.act.do === 'same'
      ? p.rig.items.filter((i) => i.gear.kind === here?.gear.kind && i.gear.name === here.gear.name).length
      : 1
  const shown = (offers.data ?? [])
    .filter((o) => (!p.kinds || p.kinds.includes(o.kind)) && matches(o.name, o.kind, find))
    .sort((a, b) => near(a.name, find) - near(b.name, find))
  const take = (o: Offer) =>
    p.pick({
      ...p.act,
      entry: o.entry,
      ...(several && { count }),
      ...(alike && { alike: true }),
    })
  return (
    <section
      className="border-l-2 border-ink bg-sheet p-3"
      data-testid="picker"
      onKeyDown={(e) => {
        if (e.key !== 'Escape') return
        e.stopPropagation()
        p.close()
      }}
    >
      <div className="flex flex-wrap items-baseline gap-x-3 gap-y-1">
        <b>{p.title}</b>
        <input
          className="field w-64"
          autoFocus
          aria-label={w.find}
          placeholder={several ? w.findSeveral : w.find}
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => {
            const first = shown.find((o) => o.fits)
            if (e.key === 'Enter' && first && !p.busy) {
              e.preventDefault()
              e.stopPropagation()
              take(first)
            }
          }}
        />
        {twins > 1 && (
          <label className="flex items-center gap-2 text-sm">
            <input
              type="checkbox"
              className="h-5 w-5 accent-[var(--ink)]"
              checked={alike}
              onChange={(e) => setAlike(e.target.checked)}
            />
            {w.alike(twins)}
          </label>
        )}
        <button className="quiet text-sm" onClick={p.close}>
          {words.hop.close}
        </button>
      </div>
      {offers.error && <Problems error={offers.error as Failure} />}
      {!offers.data && !offers.error && (
        <p role="status" className="mt-2 text-sm text-muted">
          {w.looking}
        </p>
      )}
      {offers.data && shown.length === 0 && <p className="mt-2 text-sm text-muted">{w.nothing(find)}</p>}
      <ul className="mt-2 max-h-72 overflow-y-auto pr-2">
        {shown.map((o) => (
          <li
            key={o.entry}
            className="flex flex-wrap items-baseline gap-x-3 border-b border-hair py-1 text-sm"
            data-fits={o.fits ? 'yes' : 'no'}
          >
            {o.fits ? (
              <button className="quiet font-semibold" disabled={p.busy} onClick={() => take(o)}>
                {several && count > 1 ? `${count} × ` : ''}
                {o.name}
              </button>
            ) : (
              <span className="text-muted">
                {o.name}: {o.why}
              </span>
            )}
            <span className="text-xs text-muted">
              {w.kind(o.kind)} ·{' '}
              {o.left > 0 ? w.owned(o.left) : o.price ? w.costs(o.price.amount, o.price.currency) : w.toGet}
            </span>
            {o.does && (
              <span className="ml-auto text-xs">
                <StateWord state={o.does.state} /> <span className="text-muted">{o.does.words}</span>
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}

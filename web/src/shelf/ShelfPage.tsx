import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useSearchParams } from 'react-router'
import { api, type Entry, type Failure, type Shelved, shelfAddress } from '../api/client'
import { keys } from '../api/keys'
import { Frame, Problems } from '../parts/Frame'
import { ImportButton } from '../parts/ImportButton'
import { useTitle } from '../parts/useTitle'
import { money } from '../parts/money'
import { words } from '../words'
import { Compare } from './Compare'
import { Sheet } from './Sheet'

const w = words.shelf

/** What is owned, or could be bought: spec sheets, searched, compared, changed in place. */
export function ShelfPage() {
  useTitle(w.title)
  const queries = useQueryClient()
  const [search, setSearch] = useSearchParams()
  const shelf = useQuery({ queryKey: keys.shelf, queryFn: () => api.shelf() })
  const [find, setFind] = useState('')
  const [kind, setKind] = useState('')
  const [mine, setMine] = useState(false)
  const [gone, setGone] = useState<Entry[]>([])
  const [socket, setSocket] = useState<{ of: string; port: string }>()
  const [adding, setAdding] = useState(false)
  const again = () => queries.invalidateQueries({ queryKey: keys.shelf })
  const look = (ids: (string | undefined)[]) => {
    const next = ids.filter((x): x is string => !!x)
    setSearch(next.length ? { open: next.join(',') } : {})
  }
  const open = (search.get('open') ?? '').split(',').filter(Boolean)
  const all = shelf.data ?? []
  const at = (id?: string) => all.find((s) => s.entry.id === id)
  const left = at(open[0])
  const right = at(open[1])

  const copy = useMutation({
    mutationFn: (id: string) => api.copyOnShelf(id),
    onSuccess: async (s) => {
      await again()
      look([s.entry.id])
    },
  })
  const remove = useMutation({
    mutationFn: (e: Entry) => api.takeOffShelf(e.id),
    onSuccess: (_, e) => {
      setGone([e])
      look([])
      void again()
    },
  })
  const restore = useMutation({
    mutationFn: async (all: Entry[]) => {
      for (const e of all) await api.backOnShelf(e.id)
    },
    onSuccess: (_, all) => {
      setGone([])
      void again().then(() => look([all[0]!.id]))
    },
  })
  const add = useMutation({
    mutationFn: ({ name, like }: { name: string; like: Entry['gear'] }) =>
      api.putOnShelf({ id: 'new-thing', owned: true, gear: { ...like, name } }),
    onSuccess: async (s) => {
      await again()
      setFind('')
      setAdding(false)
      look([s.entry.id])
    },
  })
  const leave = useMutation({
    mutationFn: async (all: Shelved[]) => {
      for (const s of all) await api.takeOffShelf(s.entry.id)
    },
    onSuccess: (_, all) => {
      setGone(all.map((s) => s.entry))
      look([])
      void again()
    },
  })
  const bring = useMutation({
    mutationFn: async (f: File) => api.importShelf(await f.text()),
    onSuccess: async (list) => {
      await again()
      look([list[0]?.entry.id])
    },
  })
  const failed = [copy, remove, restore, add, leave, bring].find((m) => m.error)
  const words_ = find.toLowerCase().split(/\s+/).filter(Boolean)
  const shown = all.filter(
    ({ entry: e }) =>
      (!kind || e.gear.kind === kind) &&
      (!mine || e.owned) &&
      words_.every((x) =>
        `${e.gear.name} ${e.gear.kind} ${e.gear.notes ?? ''} ${e.gear.listedAs ?? ''}`
          .toLowerCase()
          .includes(x),
      ),
  )
  const demo = all.filter((s) => s.entry.demo)
  const kinds = [...new Set(all.map((s) => s.entry.gear.kind))]
  return (
    <Frame>
      <main className="px-6 pb-24 max-sm:px-4">
        <section className="flex flex-wrap items-end justify-between gap-4 py-5">
          <div>
            <h1 className="text-2xl font-semibold tracking-tight">{w.title}</h1>
            <p className="mt-1 text-muted">
              {shelf.data ? w.settled(all.filter((s) => s.entry.owned).length, all.length) : w.lead}
            </p>
          </div>
          <div className="flex flex-wrap gap-3 text-sm">
            <ImportButton label={w.import} accept=".json,.csv" bring={bring.mutate} />
            <a className="act" href={shelfAddress('json', open)} download>
              {open.length ? w.exportOpen : w.export} JSON
            </a>
            <a className="act" href={shelfAddress('csv', open)} download>
              {open.length ? w.exportOpen : w.export} CSV
            </a>
            {demo.length > 0 && (
              <button className="act" disabled={leave.isPending} onClick={() => leave.mutate(demo)}>
                {w.demoLeaves(demo.length)}
              </button>
            )}
            <button className="act act-main" aria-expanded={adding} onClick={() => setAdding(!adding)}>
              {w.add}
            </button>
          </div>
        </section>
        {adding && (
          <NewThing
            all={all}
            kind={kind}
            busy={add.isPending}
            add={add.mutate}
            close={() => setAdding(false)}
          />
        )}
        {failed && (
          <div className="mb-4 border-l-4 border-snapped pl-4">
            <Problems error={failed.error as Failure} />
            <button className="quiet mt-1 text-sm" onClick={() => failed.reset()}>
              {words.list.close}
            </button>
          </div>
        )}
        {gone.length > 0 && (
          <p role="status" className="mb-4 bg-wash px-4 py-2">
            {gone.length === 1 ? w.gone(gone[0]!.gear.name) : w.goneAll(gone.length)}{' '}
            <button className="quiet font-semibold" onClick={() => restore.mutate(gone)}>
              {words.list.undo}
            </button>
          </p>
        )}
        <div className="grid gap-x-10 gap-y-6 lg:grid-cols-[21rem_minmax(0,1fr)]">
          <section
            aria-label={w.title}
            className={`${left ? 'max-lg:hidden' : ''} lg:sticky lg:top-0 lg:max-h-screen lg:self-start lg:overflow-y-auto lg:py-1`}
          >
            <input
              className="field w-full"
              type="search"
              aria-label={w.find}
              placeholder={w.find}
              value={find}
              onChange={(e) => setFind(e.target.value)}
            />
            <div className="mt-2 flex items-center justify-between gap-3 text-sm">
              <select
                className="field"
                aria-label={w.kind}
                value={kind}
                onChange={(e) => setKind(e.target.value)}
              >
                <option value="">{w.allKinds}</option>
                {kinds.map((k) => (
                  <option key={k} value={k}>
                    {w.kinds[k] ?? k}
                  </option>
                ))}
              </select>
              <label className="flex items-center gap-2">
                <input
                  type="checkbox"
                  className="accent-[var(--ink)]"
                  checked={mine}
                  onChange={(e) => setMine(e.target.checked)}
                />
                {w.onlyMine}
              </label>
            </div>
            {shelf.error && <Problems error={shelf.error} />}
            {shelf.isLoading && (
              <p role="status" className="mt-4 text-muted">
                {w.loading}
              </p>
            )}
            {shelf.data && shown.length === 0 && <p className="mt-4 text-muted">{w.nothing}</p>}
            <ul className="mt-3 border-t border-hair">
              {shown.map((s) => (
                <Line key={s.entry.id} shelved={s} open={open} look={look} />
              ))}
            </ul>
          </section>
          <section className="min-w-0">
            {left && (
              <button className="quiet mb-3 text-sm lg:hidden" onClick={() => look([])}>
                {w.back}
              </button>
            )}
            {!left && <p className="mt-8 text-muted">{w.choose}</p>}
            {left && right && <Compare left={left} right={right} close={() => look([left.entry.id])} />}
            {left && !right && (
              <Sheet
                key={`${left.entry.id}/${left.revision}`}
                shelved={left}
                socket={socket?.of === left.entry.id ? socket.port : undefined}
                choose={(port) => setSocket(port ? { of: left.entry.id, port } : undefined)}
                copy={() => copy.mutate(left.entry.id)}
                remove={() => remove.mutate(left.entry)}
              />
            )}
          </section>
        </div>
      </main>
    </Frame>
  )
}

function Line({
  shelved: { entry: e },
  open,
  look,
}: {
  shelved: Shelved
  open: string[]
  look: (ids: string[]) => void
}) {
  const chosen = open.includes(e.id)
  return (
    <li className={`flex items-baseline gap-3 border-b border-hair py-1.5 pl-2 ${chosen ? 'bg-wash' : ''}`}>
      <button
        className="min-w-0 flex-1 text-left"
        aria-current={chosen}
        onClick={() => look([e.id])}
        title={e.gear.name}
      >
        <span className="block truncate font-semibold">{e.gear.name}</span>
        <span className="block truncate text-xs text-muted">
          {w.kinds[e.gear.kind] ?? e.gear.kind}
          {e.owned ? ` · ${w.owned}${e.count && e.count > 1 ? ` ×${e.count}` : ''}` : ''}
          {e.price ? ` · ${money(e.price)}` : ''}
          {e.demo ? ` · ${w.ofDemo}` : ''}
        </span>
      </button>
      {open.length > 0 && !chosen && (
        <button
          className="quiet pr-2 text-xs"
          aria-label={`${w.compare} ${e.gear.name}`}
          onClick={() => look([open[0]!, e.id])}
        >
          {w.compare}
        </button>
      )}
    </li>
  )
}

/** A thing that is not on the shelf yet: its name, and the general kind it is nearest to. It is kept when it has a name. */
function NewThing(p: {
  all: Shelved[]
  kind: string
  busy: boolean
  add: (thing: { name: string; like: Entry['gear'] }) => void
  close: () => void
}) {
  const general = p.all.filter((s) => !s.entry.demo)
  const first = general.find((s) => !p.kind || s.entry.gear.kind === p.kind)
  const [name, setName] = useState('')
  const [like, setLike] = useState(first?.entry.id ?? '')
  const base = general.find((s) => s.entry.id === like)
  const kinds = [...new Set(general.map((s) => s.entry.gear.kind))]
  return (
    <form
      className="mb-4 flex flex-wrap items-end gap-4 border-l-4 border-ink pl-4"
      data-testid="new-thing"
      onSubmit={(e) => {
        e.preventDefault()
        if (base && name.trim()) p.add({ name: name.trim(), like: base.entry.gear })
      }}
      onKeyDown={(e) => e.key === 'Escape' && p.close()}
    >
      <label>
        <span className="block text-sm text-muted">{w.newThingName}</span>
        <input
          className="field w-64"
          autoFocus
          maxLength={120}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
      </label>
      <label>
        <span className="block text-sm text-muted">{w.newThingLike}</span>
        <select className="field max-w-72" value={like} onChange={(e) => setLike(e.target.value)}>
          {kinds.map((k) => (
            <optgroup key={k} label={w.kinds[k] ?? k}>
              {general
                .filter((s) => s.entry.gear.kind === k)
                .map((s) => (
                  <option key={s.entry.id} value={s.entry.id}>
                    {s.entry.gear.name}
                  </option>
                ))}
            </optgroup>
          ))}
        </select>
      </label>
      <button className="act act-main" disabled={!name.trim() || !base || p.busy}>
        {w.keepThing}
      </button>
      <button type="button" className="quiet" onClick={p.close}>
        {words.list.close}
      </button>
    </form>
  )
}

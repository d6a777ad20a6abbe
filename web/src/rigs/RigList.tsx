import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { api, type Failure, fileAddress, type Listed } from '../api/client'
import { keys } from '../api/keys'
import { Frame, Problems } from '../parts/Frame'
import { ImportButton } from '../parts/ImportButton'
import { Glyph } from '../parts/Rope'
import { StateWord } from '../parts/StateWord'
import { useTitle } from '../parts/useTitle'
import { words } from '../words'
import { Bin } from './Bin'
import { FromText } from './FromText'

const w = words.list

export function RigList() {
  useTitle(w.title)
  const queries = useQueryClient()
  const go = useNavigate()
  const rigs = useQuery({ queryKey: keys.rigs, queryFn: () => api.rigs() })
  const [gone, setGone] = useState<Listed>()
  const again = () => queries.invalidateQueries({ queryKey: keys.rigs })
  const remove = useMutation({
    mutationFn: (r: Listed) => api.remove(r.id),
    onSuccess: (_, r) => {
      setGone(r)
      void again()
    },
  })
  const restore = useMutation({
    mutationFn: (r: Listed) => api.restore(r.id),
    onSuccess: () => {
      setGone(undefined)
      void again()
    },
  })
  const freeze = useMutation({ mutationFn: (r: Listed) => api.freeze(r.id, !r.frozen), onSuccess: again })
  const copy = useMutation({ mutationFn: (r: Listed) => api.copy(r.id), onSuccess: again })
  const [telling, setTelling] = useState(false)
  const bring = useMutation({
    mutationFn: async (f: File) => {
      const text = await f.text()
      return text.trimStart().startsWith('{') ? api.import(text) : api.fromText(text)
    },
    onSuccess: (b) => go(`/rigs/${b.id}`),
  })
  const failed = (bring.error ??
    freeze.error ??
    remove.error ??
    restore.error ??
    copy.error) as Failure | null
  return (
    <Frame>
      <main className="mx-auto max-w-5xl px-6 py-8 max-sm:px-4">
        <div className="flex flex-wrap items-end justify-between gap-4">
          <div>
            <h1 className="text-3xl font-semibold tracking-tight">{w.title}</h1>
            <p className="mt-1 text-muted">{w.lead}</p>
          </div>
          <div className="flex gap-3">
            <ImportButton
              label={w.import}
              accept=".json,.txt,application/json,text/plain"
              bring={bring.mutate}
            />
            <button className="act" aria-expanded={telling} onClick={() => setTelling(!telling)}>
              {w.text}
            </button>
            <Link to="/new" className="act act-main">
              {w.new}
            </Link>
          </div>
        </div>
        {telling && <FromText close={() => setTelling(false)} />}
        {failed && (
          <div className="mt-6 border-l-4 border-snapped pl-4">
            <Problems error={failed} />
            <button
              className="quiet mt-2 text-sm"
              onClick={() => [bring, freeze, remove, restore, copy].forEach((m) => m.reset())}
            >
              {w.close}
            </button>
          </div>
        )}
        {gone && (
          <p role="status" className="mt-6 bg-wash px-4 py-2">
            {w.removed(gone.name)}{' '}
            <button className="quiet font-semibold" onClick={() => restore.mutate(gone)}>
              {w.undo}
            </button>
          </p>
        )}
        {rigs.isPending && <p className="mt-10 text-muted">{w.loading}</p>}
        {rigs.error && !rigs.data && (
          <div className="mt-10">
            <Problems error={rigs.error} />
            <button className="act mt-3" onClick={() => rigs.refetch()}>
              {words.again}
            </button>
          </div>
        )}
        {rigs.data?.length === 0 && <Empty bring={bring.mutate} />}
        {!!rigs.data?.length && (
          <ul className="mt-8 border-t border-hair">
            {rigs.data.map((r) => (
              <li
                key={r.id}
                className="flex flex-wrap items-center gap-x-5 gap-y-2 border-b border-hair py-4"
              >
                <Glyph state={r.state} />
                <div className="min-w-0 flex-1 basis-60">
                  <Link
                    to={`/rigs/${r.id}`}
                    className="quiet block truncate text-lg font-semibold"
                    title={r.name}
                  >
                    {r.name}
                  </Link>
                  <p className="text-sm text-muted">
                    <StateWord state={r.state} /> {r.frozen && `· ${w.frozen} `}· {w.feeds(r.feeds)} ·{' '}
                    {w.changed}{' '}
                    {new Date(r.updatedAt).toLocaleString('en-GB', {
                      dateStyle: 'medium',
                      timeStyle: 'short',
                    })}
                  </p>
                </div>
                <div className="flex gap-4 text-sm">
                  <button
                    className="quiet"
                    onClick={() => freeze.mutate(r)}
                    aria-label={`${r.frozen ? w.thaw : w.freeze} ${r.name}`}
                  >
                    {r.frozen ? w.thaw : w.freeze}
                  </button>
                  <button className="quiet" onClick={() => copy.mutate(r)} aria-label={`${w.copy} ${r.name}`}>
                    {w.copy}
                  </button>
                  <a
                    className="quiet"
                    href={fileAddress(r.id, 0)}
                    download
                    aria-label={`${w.export} ${r.name}`}
                  >
                    {w.export}
                  </a>
                  <button
                    className="quiet"
                    onClick={() => remove.mutate(r)}
                    aria-label={`${w.remove} ${r.name}`}
                  >
                    {w.remove}
                  </button>
                </div>
              </li>
            ))}
          </ul>
        )}
        <Bin restore={restore.mutate} />
      </main>
    </Frame>
  )
}

/** The first visit: three answers, the demo rigs, or a file. */
function Empty({ bring }: { bring: (f: File) => void }) {
  const queries = useQueryClient()
  const demo = useMutation({
    mutationFn: () => api.demo(),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.rigs }),
  })
  return (
    <div className="mt-12 text-center">
      <svg width="320" height="70" viewBox="0 0 320 70" aria-hidden="true" className="mx-auto">
        <path
          d="M10 12C90 72 230 72 310 12"
          className="rope untested"
          strokeWidth="4"
          strokeDasharray="0 10"
        />
        <circle cx="10" cy="12" r="5" fill="var(--ink)" />
        <circle cx="310" cy="12" r="5" fill="var(--ink)" />
      </svg>
      <p className="mt-4 text-lg font-semibold">{w.empty}</p>
      <dl className="mx-auto mt-6 grid max-w-3xl gap-x-8 gap-y-6 text-left sm:grid-cols-3">
        <div>
          <dt>
            <Link to="/new" className="act act-main inline-block">
              {w.new}
            </Link>
          </dt>
          <dd className="mt-2 text-sm text-muted">{w.emptyHelp}</dd>
        </div>
        <div>
          <dt>
            <button className="act" disabled={demo.isPending} onClick={() => demo.mutate()}>
              {w.demo}
            </button>
          </dt>
          <dd className="mt-2 text-sm text-muted">{w.demoHelp}</dd>
        </div>
        <div>
          <dt>
            <ImportButton label={w.import} accept=".json,.txt,application/json,text/plain" bring={bring} />
          </dt>
          <dd className="mt-2 text-sm text-muted">{w.importHelp}</dd>
        </div>
      </dl>
      {demo.data?.length === 0 && (
        <p role="status" className="mt-4">
          {w.demoGone}
        </p>
      )}
      {demo.error && <Problems error={demo.error as Failure} />}
    </div>
  )
}

import { useQueryClient, useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Failure } from '../api/client'
import { Problems } from '../parts/Frame'
import { ImportButton } from '../parts/ImportButton'
import { words } from '../words'

const w = words.log

/** Everything in one file, out and back in, with a report of what was new, the same or clashing. */
export function Archive() {
  const queries = useQueryClient()
  const [share, setShare] = useState(0)
  const bring = useMutation({
    mutationFn: (file: File) => api.bringBack(file, (done, of) => setShare(of > 0 ? done / of : 0)),
    onMutate: () => setShare(0),
    onSuccess: () => queries.invalidateQueries(),
  })
  const rows = bring.data?.rows ?? []
  return (
    <section className="mt-10" data-testid="archive">
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.archive}</h2>
      <p className="text-sm text-muted">{w.archiveHelp}</p>
      <div className="mt-2 flex flex-wrap items-center gap-4">
        <a className="act" href="/api/backup" download>
          {w.backup}
        </a>
        <ImportButton label={w.restore} accept=".zip,application/zip" bring={bring.mutate} />
      </div>
      {bring.isPending && (
        <p role="status" className="mt-2">
          {w.bringing}{' '}
          <progress className="ml-2 align-middle accent-ink" value={share} aria-label={w.bringing} />
        </p>
      )}
      {bring.error && <Problems error={bring.error as Failure} />}
      {bring.data && (
        <div role="status" className="mt-2">
          <p>
            {Object.entries(w.came)
              .map(([came, label]) => ({ n: rows.filter((r) => r.came === came).length, label }))
              .filter((c) => c.n > 0)
              .map((c) => `${c.n} ${c.label}`)
              .join(' · ')}
          </p>
          <ul className="text-sm">
            {rows
              .filter((r) => r.came === 'clash')
              .map((r) => (
                <li key={r.kind + r.id}>
                  <b>{r.name}</b> ({w.kinds[r.kind]}): {w.came.clash}
                </li>
              ))}
          </ul>
        </div>
      )}
    </section>
  )
}

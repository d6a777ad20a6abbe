import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Failure, type Show } from '../api/client'
import { keys } from '../api/keys'
import { ImportButton } from '../parts/ImportButton'
import { words } from '../words'

const w = words.show

type Destination = Show['destinations'][number]
type Profile = Pick<Destination, 'ingest' | 'transport'>

const format = 'eventether-destination/1'

/** What a destination takes, as a file of one's own: kept beside the rigs, brought into any of them. What it says is checked by
 * the server when it is kept, as everything is. */
export function IngestFile({ d, keep }: { d: Destination; keep: (p: Profile, what: string) => void }) {
  const [wrong, setWrong] = useState('')
  const file = { format, name: d.name, transport: d.transport ?? 'rtmp', ingest: d.ingest ?? {} }
  return (
    <>
      <a
        className="quiet text-sm"
        download={`${d.name}.destination.json`}
        href={`data:application/json,${encodeURIComponent(JSON.stringify(file, null, 2) + '\n')}`}
      >
        {w.profileOut}
      </a>
      <ImportButton
        label={w.profileIn}
        accept=".json"
        bring={(f) =>
          void f.text().then((text) => {
            try {
              const p = JSON.parse(text) as { format?: string; name?: string } & Profile
              if (p.format !== format) throw new Error(w.profileWrong(String(p.format), format))
              setWrong('')
              keep({ ingest: p.ingest, transport: p.transport }, w.profileTook(d.name, p.name ?? f.name))
            } catch (e) {
              setWrong(`${f.name}: ${(e as Error).message}`)
            }
          })
        }
      />
      {wrong && (
        <span role="alert" className="w-full text-sm break-words text-snapped">
          {wrong}
        </span>
      )}
    </>
  )
}

/** Keeps what a destination takes among one's own, to begin from in any rig; or takes it off them. */
export function Mine({ d, is }: { d: Destination; is: boolean }) {
  const queries = useQueryClient()
  const again = () => queries.invalidateQueries({ queryKey: keys.destinations })
  const keep = useMutation({
    mutationFn: () =>
      api.keepDestination({ name: d.name, transport: d.transport ?? 'rtmp', ingest: d.ingest ?? {} }),
    onSuccess: again,
  })
  const drop = useMutation({ mutationFn: () => api.dropDestination(d.name), onSuccess: again })
  const error = (keep.error ?? drop.error) as Failure | null
  return (
    <>
      <button className="quiet text-sm" onClick={() => keep.mutate()}>
        {w.keepMine}
      </button>
      {is && (
        <button className="quiet text-sm" onClick={() => drop.mutate()}>
          {w.dropMine}
        </button>
      )}
      {keep.isSuccess && is && (
        <span role="status" className="text-sm text-muted">
          {w.keptMine(d.name)}
        </span>
      )}
      {error && (
        <span role="alert" className="w-full text-sm break-words text-snapped">
          {error.message}
        </span>
      )}
    </>
  )
}

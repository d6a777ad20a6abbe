import { useState } from 'react'
import type { Change } from '../parts/change'
import { words } from '../words'
import type { Looked } from './clip'

const w = words.look

/** What was measured and the rig can take over, one by one or all of it. */
export function Takes({
  takes,
  of,
  keep,
}: {
  takes: Looked['takes']
  of: string
  keep: (c: Change) => Promise<boolean>
}) {
  const [taken, setTaken] = useState<string[]>([])
  const left = takes.filter((t) => !taken.includes(t.says))
  const [busy, setBusy] = useState(false)
  const take = async (which: Looked['takes']) => {
    setBusy(true)
    const kept = await keep({
      edits: which.flatMap((t) => t.edits),
      what: w.took(which.map((t) => t.says).join(', '), of.slice(0, 60)).slice(0, 200),
    })
    setBusy(false)
    if (kept) setTaken((was) => [...was, ...which.map((t) => t.says)]) // else the page says why
  }
  return (
    <section className="mt-5" data-testid="takes">
      <h3 className="font-semibold">{w.takes}</h3>
      <ul>
        {takes.map((t) => (
          <li key={t.says} className="flex flex-wrap items-center gap-3 border-b border-hair py-1">
            <span className="min-w-0 flex-1">{t.says}</span>
            {taken.includes(t.says) ? (
              <span className="text-sm text-muted">{w.taken}</span>
            ) : (
              <button className="act" disabled={busy} onClick={() => void take([t])}>
                {w.take}
              </button>
            )}
          </li>
        ))}
      </ul>
      {left.length > 1 && (
        <button className="act mt-2" disabled={busy} onClick={() => void take(left)}>
          {w.takeAll}
        </button>
      )}
    </section>
  )
}

import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api } from '../api/client'
import { keys } from '../api/keys'
import { words } from '../words'

const w = words.shelf

/** What the sheet was: one step back, or any state it has had, as a new one. */
export function Earlier(p: { entry: string; now: number; what: string; back: (to: number) => void }) {
  const [open, setOpen] = useState(false)
  const past = useQuery({
    queryKey: keys.sheetHistory(p.entry, p.now),
    queryFn: () => api.shelfHistory(p.entry),
    enabled: open,
  })
  if (p.now < 2) return null
  return (
    <>
      <button
        className="quiet"
        title={`${words.board.undo}: ${p.what}`}
        aria-label={`${words.board.undo}: ${p.what}`}
        onClick={() => p.back(p.now - 1)}
      >
        {words.board.undo}
      </button>
      <span className="relative">
        <button className="quiet" aria-expanded={open} onClick={() => setOpen(!open)}>
          {words.board.history}
        </button>
        {open && (
          <ol className="absolute right-0 z-10 max-h-72 w-72 overflow-y-auto border border-ink bg-sheet p-2">
            {past.data?.map((s) => (
              <li key={s.number} className="flex items-baseline gap-2 border-b border-hair py-1">
                <span className="w-5 text-right text-muted">{s.number}</span>
                <span className="min-w-0 flex-1 break-words">{s.what}</span>
                {s.number !== p.now && (
                  <button
                    className="quiet"
                    onClick={() => {
                      setOpen(false)
                      p.back(s.number)
                    }}
                  >
                    {w.backToThis}
                  </button>
                )}
              </li>
            ))}
          </ol>
        )}
      </span>
    </>
  )
}

import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { api, type Failure } from '../api/client'
import { Problems } from '../parts/Frame'
import { useTitle } from '../parts/useTitle'
import { words } from '../words'

const w = words.night

/** What a phone sees at the door of a show. */
export function PairPage() {
  useTitle(w.pair)
  const [code, setCode] = useState('')
  const go = useNavigate()
  const pair = useMutation({
    mutationFn: () => api.pair(code),
    onSuccess: ({ night }) => void go(`/nights/${night}`, { replace: true }),
  })
  return (
    <main className="mx-auto max-w-sm p-6">
      <h1 className="text-2xl font-semibold">{w.pair}</h1>
      <p className="mt-1">{w.pairHelp}</p>
      <form
        className="mt-4 flex items-end gap-3"
        onSubmit={(e) => {
          e.preventDefault()
          pair.mutate()
        }}
      >
        <label>
          <span className="block text-sm text-muted">{w.code}</span>
          <input
            className="field h-12 w-40 text-2xl tracking-widest"
            inputMode="numeric"
            autoComplete="one-time-code"
            maxLength={6}
            value={code}
            onChange={(e) => setCode(e.target.value.replace(/\D/g, ''))}
          />
        </label>
        <button className="act act-main min-h-12 px-5" disabled={code.length < 6 || pair.isPending}>
          {w.enter}
        </button>
      </form>
      {pair.error && (
        <div className="mt-4">
          <Problems error={pair.error as Failure} />
        </div>
      )}
    </main>
  )
}

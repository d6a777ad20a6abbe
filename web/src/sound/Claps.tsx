import { useState } from 'react'
import { api } from '../api/client'
import { words } from '../words'

const w = words.sound

/** Five claps typed behind each other: the middle one, with the least and the most, is what was measured today. */
export function Claps({
  keep,
}: {
  keep: (f: { value: number; low: number; high: number; from: 'measured'; at: string }, what: string) => void
}) {
  const [text, setText] = useState('')
  const [wrong, setWrong] = useState<string>()
  const done = async () => {
    if (!text.trim()) return
    try {
      const m = await api.claps(text)
      keep(
        {
          value: m.value,
          low: m.low,
          high: m.high,
          from: 'measured',
          at: new Date().toISOString().slice(0, 10),
        },
        w.clapped(m.count, m.value),
      )
      setText('')
    } catch (e) {
      setWrong((e as Error).message)
    }
  }
  return (
    <form
      className="mt-1 flex flex-wrap items-center gap-2 text-sm"
      onSubmit={(e) => {
        e.preventDefault()
        void done()
      }}
    >
      <label className="text-muted">
        {w.claps}{' '}
        <input
          className="field w-48"
          placeholder={w.clapsExample}
          value={text}
          aria-invalid={!!wrong}
          onChange={(e) => {
            setText(e.target.value)
            setWrong(undefined)
          }}
        />
      </label>
      <span className="text-muted">ms</span>
      <button className="act text-xs" disabled={!text.trim()}>
        {w.clapsKeep}
      </button>
      {wrong && (
        <span role="alert" className="text-snapped">
          {wrong}
        </span>
      )}
    </form>
  )
}

import { useState } from 'react'
import { api } from '../api/client'
import { Row } from '../parts/Field'
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
      onSubmit={(e) => {
        e.preventDefault()
        void done()
      }}
    >
      <Row label={w.claps}>
        <input
          className="field w-48"
          aria-label={w.claps}
          placeholder={w.clapsExample}
          value={text}
          aria-invalid={!!wrong}
          onChange={(e) => {
            setText(e.target.value)
            setWrong(undefined)
          }}
        />
        <span className="text-sm text-muted">ms</span>
        <button className="act text-xs" disabled={!text.trim()}>
          {w.clapsKeep}
        </button>
        {wrong && (
          <span role="alert" className="text-sm text-snapped">
            {wrong}
          </span>
        )}
      </Row>
    </form>
  )
}

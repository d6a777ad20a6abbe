import { useId } from 'react'
import { api } from '../api/client'
import { Link, useParams } from 'react-router'
import { Row } from '../parts/Field'
import { useNumber, useTyped } from '../parts/useTyped'
import { words } from '../words'

const w = words.sound

type Measured = { value: number; low: number; high: number; from: 'measured'; at: string }

/**
 * Five claps typed behind each other: the middle one, with the least and the most, is what was measured today. They were made with
 * some delay: where nobody has said which, it is asked for, with the one that is proposed in its place, and kept with them.
 */
export function Claps({
  said,
  proposed,
  keep,
}: {
  said?: number
  proposed: number
  keep: (f: Measured, delayMs: number, what: string) => void
}) {
  const { id } = useParams()
  const claps = useTyped((text) => api.claps(text))
  const delay = useNumber({ unit: 'ms', low: 0, high: 5000 })
  const done = async () => {
    const m = await claps.read()
    const set = said ?? (delay.text?.trim() ? await delay.read() : proposed)
    if (!m || set === undefined) return
    const at = new Date().toISOString().slice(0, 10)
    keep(
      { value: m.value, low: m.low, high: m.high, from: 'measured', at },
      set,
      w.clapped(m.count, m.value, set),
    )
    claps.set(undefined)
    delay.set(undefined)
  }
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault()
        void done()
      }}
    >
      <Row label={w.claps}>
        <Typed name={w.claps} typed={claps} width="w-48" placeholder={w.clapsExample} />
        {said === undefined && (
          <span className="text-sm text-muted">
            {w.clappedWith}{' '}
            <Typed name={w.clappedWithName} typed={delay} width="w-20" placeholder={String(proposed)} />
          </span>
        )}
        <button className="act text-xs" disabled={!claps.text?.trim()}>
          {w.clapsKeep}
        </button>
        <span className="text-sm text-muted">
          <Link to={`/rigs/${id}/inspect`}>{w.clapsInspect}</Link> <Link to="/slate">{w.clapsSlate}</Link>
        </span>
      </Row>
    </form>
  )
}

function Typed({
  name,
  typed: { text, wrong, set },
  width,
  placeholder,
}: {
  name: string
  typed: { text?: string; wrong?: string; set: (t: string) => void }
  width: string
  placeholder: string
}) {
  const id = useId()
  return (
    <>
      <input
        className={`field ${width}`}
        aria-label={name}
        aria-invalid={!!wrong}
        aria-describedby={wrong ? id : undefined}
        placeholder={placeholder}
        value={text ?? ''}
        onChange={(e) => set(e.target.value)}
      />
      <span className="text-sm text-muted">ms</span>
      {wrong && (
        <span id={id} role="alert" className="text-sm text-snapped">
          {wrong}
        </span>
      )}
    </>
  )
}

import { useState } from 'react'
import type { Entry, Gear } from '../api/client'
import { words } from '../words'

const w = words.shelf

/** The whole sheet as text, for what has no field of its own. */
export function Whole({ entry, keep, error }: { entry: Entry; keep: (e: Entry) => void; error: boolean }) {
  const [text, setText] = useState<string>()
  const [wrong, setWrong] = useState('')
  if (text === undefined)
    return (
      <button className="quiet text-sm" onClick={() => setText(JSON.stringify(entry.gear, null, 2))}>
        {w.whole}
      </button>
    )
  return (
    <section>
      <textarea
        className="field w-full font-mono text-xs"
        aria-label={w.whole}
        rows={18}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      {wrong && (
        <p role="alert" className="text-sm text-snapped">
          {wrong}
        </p>
      )}
      <div className="flex gap-3 text-sm">
        <button
          className="act"
          onClick={() => {
            try {
              keep({ ...entry, gear: JSON.parse(text) as Gear })
              setWrong('')
            } catch (err) {
              setWrong(`${w.notJSON} ${(err as Error).message}`)
            }
          }}
        >
          {w.keepText}
        </button>
        <button className="act" onClick={() => setText(undefined)}>
          {error ? w.drop : words.list.close}
        </button>
      </div>
    </section>
  )
}

import { useState } from 'react'
import type { Board as BoardData } from '../api/client'
import { words } from '../words'

const w = words.board

/** The rig's name, changed in place. */
export function RigName({
  board,
  readOnly,
  rename,
}: {
  board: BoardData
  readOnly: boolean
  rename: (name: string) => void
}) {
  const [text, setText] = useState<string>()
  const done = () => {
    const name = text?.trim()
    if (name && name !== board.name) rename(name)
    setText(undefined)
  }
  if (text === undefined || readOnly)
    return (
      <button
        className="max-w-full truncate text-left hover:underline"
        title={board.name}
        aria-label={`${w.rename}: ${board.name}`}
        disabled={readOnly}
        onClick={() => setText(board.name)}
      >
        {board.name}
      </button>
    )
  return (
    <input
      className="field w-full max-w-md"
      aria-label={w.rename}
      autoFocus
      maxLength={120}
      value={text}
      onChange={(e) => setText(e.target.value)}
      onBlur={done}
      onKeyDown={(e) => {
        if (e.key === 'Enter') done()
        if (e.key === 'Escape') setText(undefined)
      }}
    />
  )
}

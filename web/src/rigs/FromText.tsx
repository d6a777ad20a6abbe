import { useMutation } from '@tanstack/react-query'
import { useId, useState } from 'react'
import { useNavigate } from 'react-router'
import { api, type Failure } from '../api/client'
import { Problems } from '../parts/Frame'
import { words } from '../words'

const w = words.list

/** A new rig told in lines, or pasted out of a mail. */
export function FromText({ close }: { close: () => void }) {
  const go = useNavigate()
  const id = useId()
  const [text, setText] = useState('')
  const make = useMutation({
    mutationFn: () => api.fromText(text),
    onSuccess: (b) => go(`/rigs/${b.id}`),
  })
  return (
    <section className="mt-6 border-l-2 border-ink pl-4" data-testid="from-text">
      <label htmlFor={id} className="font-semibold">
        {w.textTitle}
      </label>
      <p className="text-sm text-muted">{w.textHelp}</p>
      <textarea
        id={id}
        autoFocus
        className="field mt-2 w-full font-mono text-[13px]"
        rows={Math.min(24, Math.max(5, text.split('\n').length + 1))}
        placeholder={w.textExample}
        value={text}
        onChange={(e) => {
          setText(e.target.value)
          make.reset()
        }}
        onKeyDown={(e) => {
          if (e.key === 'Enter' && (e.ctrlKey || e.metaKey) && text.trim()) make.mutate()
        }}
      />
      {make.error && (
        <div className="mt-2">
          <Problems error={make.error as Failure} />
        </div>
      )}
      <p className="mt-2 flex gap-3">
        <button
          className="act act-main"
          disabled={!text.trim() || make.isPending}
          onClick={() => make.mutate()}
        >
          {w.textMake} <kbd className="ml-1 text-xs opacity-70">{w.textKeys}</kbd>
        </button>
        <button className="act" onClick={close}>
          {w.close}
        </button>
      </p>
    </section>
  )
}

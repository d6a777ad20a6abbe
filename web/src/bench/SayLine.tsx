import { useMutation, useQuery } from '@tanstack/react-query'
import { useId, useRef, useState, type KeyboardEvent } from 'react'
import { api, type Completion, type Failure, type Rig, type TextProblem } from '../api/client'
import type { Change } from '../parts/change'
import { Problems } from '../parts/Frame'
import { words } from '../words'
import { useBenchHands } from './BenchRig'
import { chars, fitting, lineAt } from './completing'

const w = words.say

/** A rig told in lines: Enter holds what they come to, what is not understood is marked at its place. */
export function SayLine({ rig, add }: { rig: Rig; add: (c: Change) => void }) {
  const [text, setText] = useState('')
  const [cursor, setCursor] = useState(0)
  const [typing, setTyping] = useState(false)
  const [picked, setPicked] = useState('') // by its text: the list may become another under the hand
  const box = useRef<HTMLTextAreaElement>(null)
  const list = useId()
  const { whole, inTurn } = useBenchHands(rig)
  const say = useMutation({
    mutationFn: (t: string) =>
      inTurn(async () => {
        const done = await api.say(await whole(), t)
        if (done.problems.length === 0 && done.edits.length > 0)
          add({ edits: done.edits, what: done.what || w.typed, notes: done.notes })
        return done
      }),
    onSuccess: (done) => {
      if (done.problems.length > 0 || done.edits.length === 0) return
      setText('')
      box.current?.focus()
    },
  })
  const here = lineAt(text, cursor)
  const offers = useQuery({
    queryKey: ['complete', rig, here.line, here.within],
    queryFn: async ({ signal }) => ({
      list: await api.complete(rig, here.line, here.within, signal),
      of: { line: here.line, within: here.within },
    }),
    enabled: typing && text !== '' && here.line.length < 2000,
    staleTime: Infinity,
    placeholderData: (was) => was,
  })
  const shown = typing && text !== '' && offers.data ? fitting(offers.data.list, offers.data.of, here) : []
  const chosen = shown.findIndex((c) => c.text === picked)
  const choose = (i: number) => setPicked(shown[i]?.text ?? '')
  const take = (c: Completion) => {
    const line = chars(here.line)
    const next = [...line.slice(0, c.from), c.text, ...line.slice(c.to)].join('')
    const at = here.start + line.slice(0, c.from).join('').length + c.text.length
    setText(text.slice(0, here.start) + next + text.slice(here.start + here.line.length))
    setPicked('')
    requestAnimationFrame(() => {
      box.current?.focus()
      box.current?.setSelectionRange(at, at)
      setCursor(at)
    })
  }
  const onKey = (e: KeyboardEvent) => {
    e.stopPropagation()
    if (e.key === 'ArrowDown' && shown.length) choose((chosen + 1) % shown.length)
    else if (e.key === 'ArrowUp' && shown.length && chosen >= 0) choose(chosen - 1)
    else if ((e.key === 'Tab' || e.key === 'Enter') && chosen >= 0 && shown[chosen]) take(shown[chosen])
    else if (e.key === 'Escape') {
      setTyping(false)
      setPicked('')
    } else if (e.key === 'Enter' && !e.shiftKey && text.trim()) say.mutate(text)
    else return
    e.preventDefault()
  }
  const problems = say.data?.problems ?? []
  return (
    <section className="mt-2" data-testid="say">
      <label className="text-sm text-muted" htmlFor={`${list}-in`}>
        {w.label}
      </label>
      <div className="relative">
        <textarea
          id={`${list}-in`}
          ref={box}
          className="field w-full font-mono text-[13px]"
          rows={Math.min(12, Math.max(1, text.split('\n').length))}
          placeholder={w.example}
          value={text}
          role="combobox"
          aria-expanded={shown.length > 0}
          aria-controls={list}
          aria-autocomplete="list"
          aria-activedescendant={chosen >= 0 ? `${list}-${chosen}` : undefined}
          aria-invalid={problems.length > 0}
          aria-describedby={`${list}-wrong`}
          onChange={(e) => {
            setText(e.target.value)
            setCursor(e.target.selectionStart)
            setTyping(true)
            setPicked('')
            if (say.data || say.error) say.reset()
          }}
          onSelect={(e) => setCursor(e.currentTarget.selectionStart)}
          onBlur={() => setTyping(false)}
          onKeyDown={onKey}
        />
        {shown.length > 0 && (
          <ul
            id={list}
            role="listbox"
            className="absolute z-10 max-w-full border border-ink bg-sheet text-sm shadow"
            style={{ left: `${Math.min(60, (shown[0]?.from ?? 0) * 0.9)}ch` }}
          >
            {shown.map((c, i) => (
              <li
                key={c.text}
                id={`${list}-${i}`}
                role="option"
                aria-selected={i === chosen}
                className={`flex cursor-pointer justify-between gap-6 px-3 py-1 ${i === chosen ? 'bg-wash' : ''}`}
                onMouseDown={(e) => {
                  e.preventDefault()
                  take(c)
                }}
              >
                <span>{c.text.trim()}</span>
                <span className="text-xs text-muted">{c.says}</span>
              </li>
            ))}
          </ul>
        )}
      </div>
      <div id={`${list}-wrong`} aria-live="polite">
        {problems.map((p, i) => (
          <Marked key={i} line={text.split('\n')[p.line - 1] ?? ''} problem={p} many={text.includes('\n')} />
        ))}
        {say.error && <Problems error={say.error as Failure} />}
        {say.data && !problems.length && !say.data.edits.length && (
          <p className="text-sm text-muted">{w.nothing}</p>
        )}
      </div>
      <p className="mt-1 text-xs text-muted">{w.help}</p>
    </section>
  )
}

/** A line with what is not understood in it underlined at its place. */
function Marked({ line, problem: p, many }: { line: string; problem: TextProblem; many: boolean }) {
  const c = chars(line)
  return (
    <div className="mt-1 border-l-4 border-snapped pl-3 text-sm" role="alert" data-testid="not-understood">
      <p className="font-mono text-[13px] break-words whitespace-pre-wrap">
        {many && <span className="text-muted">{w.line(p.line)} </span>}
        {c.slice(0, p.from).join('')}
        <mark className="bg-transparent font-semibold text-snapped underline decoration-wavy underline-offset-4">
          {c.slice(p.from, Math.max(p.to, p.from)).join('') || ' '}
        </mark>
        {c.slice(p.to).join('')}
      </p>
      <p>
        {p.text}.{p.wants.length > 0 && <span className="text-muted"> {w.wants(p.wants)}</span>}
      </p>
    </div>
  )
}

import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react'
import { useParams, useSearchParams } from 'react-router'
import {
  api,
  type Board as BoardData,
  type Edit,
  Failure,
  fileAddress,
  type Hop,
  type Move,
  type Verdict,
} from '../api/client'
import { keys } from '../api/keys'
import type { Change } from '../parts/change'
import { Deleted } from '../parts/Deleted'
import { Frame, Problems } from '../parts/Frame'
import { Glyph } from '../parts/Rope'
import { Safe } from '../parts/Safe'
import { StateWord } from '../parts/StateWord'
import { useRig } from '../parts/useRig'
import { useStable } from '../parts/useStable'
import { useTitle } from '../parts/useTitle'
import { words } from '../words'
import { Board } from './Board'
import { Branches } from './Branches'
import { Column } from './Column'
import { Cure, Proposed } from './Cure'
import { Findings } from './Findings'
import { History } from './History'
import { type HopAt, plugOf } from './hops'
import { HopPanel } from './HopPanel'
import { NewerSheets } from './NewerSheets'
import { NextQuestion } from './NextQuestion'
import { NotJudged } from './NotJudged'
import { SharedLimits } from './SharedLimits'
import { useHeld } from './useHeld'

const w = words.board

export function TetherPage() {
  const [search, setSearch] = useSearchParams()
  const revision = Number(search.get('revision') ?? 0)
  const queries = useQueryClient()
  const [held, setHeld] = useHeld(useParams().id!)
  /** What is held already while more is tried. */
  const [pinned, setPinned] = useState<Change>()
  const [lit, setLit] = useState<string[]>()
  const narrow = useNarrow()
  const {
    id,
    board,
    now,
    save,
    step: back,
    clash,
  } = useRig({
    revision,
    onKept: () => {
      setHeld(undefined)
      setPinned(undefined)
    },
  })
  // The verdict of a large rig is here before its advice is.
  const later = !!now && now.verdict.advice?.complete === false
  const advice = useQuery({
    queryKey: keys.advice(id, now?.revision),
    queryFn: () => api.advice(id, now!.revision),
    enabled: later,
    staleTime: Infinity,
  })
  const kept = (later && advice.data) || now?.verdict
  const [open, setOpen] = useState<HopAt>()
  const [notice, setNotice] = useState<string>()
  const readOnly = !!now && (!now.newest || now.frozen || !!now.deletedAt)
  useTitle(now?.name, w.title)

  const tried = (edits: Edit[]) => ({
    queryKey: keys.tried(id, now?.revision, edits),
    queryFn: () => api.try(now!.rig, edits),
    staleTime: Infinity,
    retry: (n: number, e: Error) => e instanceof Failure && e.away && n < 60,
    retryDelay: 1500,
  })
  const ghost = useQuery({
    ...tried(held?.edits ?? []),
    enabled: !!now && !!held,
    placeholderData: (before) => before,
  })
  // All the advice on it where that takes longer, once the hand rests.
  const resting = useResting(held)
  const rest = useQuery({
    queryKey: keys.tried(id, now?.revision, held?.edits, true),
    queryFn: ({ signal }) => api.try(now!.rig, held!.edits, true, signal),
    enabled: resting && !ghost.isPlaceholderData && ghost.data?.verdict.advice?.complete === false,
    staleTime: Infinity,
  })
  const shown = held && (rest.data ?? ghost.data)
  const drawn = useMemo(() => shown && { verdict: shown.verdict, rig: shown.rig }, [shown])
  const verdict = shown?.verdict ?? kept
  // What stands below the board is drawn after it.
  const told = useDeferredValue(verdict) ?? verdict

  const { mutate: keepIt, isPending: saving } = save
  const live = useRef({ held, saving })
  useEffect(() => {
    live.current = { held, saving }
  })
  const look = (edits: Edit[]) => queries.prefetchQuery(tried(edits))
  const hold = useStable((h: Change | undefined) => {
    if (live.current.saving) return
    const both = h && pinned ? { edits: [...pinned.edits, ...h.edits], what: `${pinned.what}; ${h.what}` } : h
    live.current.held = both
    if (both) void look(both.edits) // before anything is drawn
    setHeld(both)
    if (!h) setPinned(undefined)
    save.reset()
  })
  const keep = useCallback(() => {
    if (live.current.held && !live.current.saving) keepIt(live.current.held)
  }, [keepIt])

  const movesOf = useCallback(
    (of: string) =>
      queries.fetchQuery({
        queryKey: keys.moves(id, now?.revision, of),
        queryFn: () => api.moves(now!.rig, of),
        staleTime: Infinity,
      }),
    [queries, id, now],
  )
  const stepping = useRef<{ key: string; at: number }>({ key: '', at: -1 })
  const step = async (hop: Hop, by: number, plug = false) => {
    const target = plug || hop.stage === 'port' ? plugOf(hop) : hop.ref.split('.')[0]!
    if (!target) return setNotice(w.noMoves)
    const kinds: Record<string, string[]> = {
      camera: ['setting', 'power'],
      socket: ['mode'],
      lead: ['length'],
      capture: ['deliver', 'swap'],
      port: ['plug'],
    }
    const moves = (await movesOf(target)).filter((m) =>
      plug ? m.kind === 'plug' : kinds[hop.stage]?.includes(m.kind),
    )
    if (!moves.length) return setNotice(w.noMoves)
    const key = `${hop.ref}/${plug}/${now!.revision}`
    const was =
      stepping.current.key === key && live.current.held ? stepping.current.at : by > 0 ? -1 : moves.length
    const at = (was + by + moves.length) % moves.length
    stepping.current = { key, at }
    const m = moves[at]!
    hold({ edits: m.edits, what: m.label })
    // What the same key would bring next is there before it is pressed, fetched once this is drawn.
    const next = moves[(at + by + moves.length) % moves.length]!
    if (!pinned) void look(m.edits).then(() => requestIdleCallback(() => void look(next.edits)))
  }

  const onStep = useStable((hop: Hop, by: number) => void step(hop, by))
  const onPick = useStable((hop: Hop) => void step(hop, 1, true))
  const onHold = useStable((m: Move | undefined) => hold(m && { edits: m.edits, what: m.label }))
  const answer = useStable((c: Change) => {
    setHeld(undefined)
    keepIt(c)
  })

  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const typing = e.target instanceof HTMLElement && /^(INPUT|SELECT|TEXTAREA)$/.test(e.target.tagName)
      if (live.current.held && e.key === 'Escape') {
        hold(undefined)
        e.stopPropagation()
        e.preventDefault()
      } else if (live.current.held && e.key === 'Enter' && !typing) {
        const on = e.target instanceof HTMLElement && e.target.closest('button:not(.hop), a')
        if (!on) {
          keep()
          e.stopPropagation()
          e.preventDefault()
        }
      } else if ((e.ctrlKey || e.metaKey) && !typing && e.key.toLowerCase() === 'z' && now?.newest) {
        e.preventDefault()
        if (e.shiftKey ? now.redo : now.undo) back.mutate(e.shiftKey)
      }
    }
    window.addEventListener('keydown', onKey, true)
    return () => window.removeEventListener('keydown', onKey, true)
  }, [hold, keep, back, now])

  if (!now || !verdict || !told)
    return (
      <Frame>
        <main className="p-8">
          {board.error ? (
            <>
              <Problems error={board.error} />
              <button className="act mt-3" onClick={() => board.refetch()}>
                {words.again}
              </button>
            </>
          ) : (
            <Loading />
          )}
        </main>
      </Frame>
    )
  const cure = verdict.cure
  return (
    <Frame
      rig={id}
      title={
        <Name
          board={now}
          readOnly={readOnly}
          rename={(name) => keepIt({ edits: [{ do: 'name', name }], what: `Called it ${name}` })}
        />
      }
      actions={
        <>
          <button
            className="quiet disabled:text-muted disabled:no-underline"
            disabled={readOnly || !now.undo || back.isPending}
            title={now.undoes && w.undoOf(now.undoes)}
            aria-label={now.undoes ? w.undoOf(now.undoes) : w.undo}
            onClick={() => back.mutate(false)}
          >
            {w.undo}
          </button>
          <button
            className="quiet disabled:text-muted disabled:no-underline"
            disabled={readOnly || !now.redo || back.isPending}
            title={now.redoes && w.redoOf(now.redoes)}
            aria-label={now.redoes ? w.redoOf(now.redoes) : w.redo}
            onClick={() => back.mutate(true)}
          >
            {w.redo}
          </button>
          <History id={id} shown={now.revision} look={(n) => setSearch(n ? { revision: String(n) } : {})} />
          <a className="quiet" href={fileAddress(id, revision)} download>
            {w.export}
          </a>
        </>
      }
    >
      <main className="px-6 pb-32 max-sm:px-4">
        <Deleted board={now} />
        {readOnly && !now.deletedAt && (
          <p role="status" className="-mx-6 bg-wash px-6 py-2">
            {now.newest ? w.frozen : w.past(now.revision)}{' '}
            {!now.newest && (
              <button className="quiet font-semibold" onClick={() => setSearch({})}>
                {w.newest}
              </button>
            )}
          </p>
        )}
        <section
          className="grid min-h-40 grid-cols-[minmax(0,1fr)] gap-x-10 gap-y-4 py-4 lg:grid-cols-[minmax(0,1fr)_25rem]"
          aria-live="polite"
        >
          <div>
            <h1
              className="flex items-start gap-4 text-[20px] leading-[26px] font-semibold tracking-tight [overflow-wrap:anywhere] max-sm:flex-col max-sm:gap-1 max-sm:text-[16px] max-sm:leading-[21px]"
              data-testid="sentence"
              data-state={verdict.state}
            >
              <span className="mt-1 flex flex-col items-start max-sm:mt-0 max-sm:flex-row max-sm:items-center max-sm:gap-2">
                <Glyph state={verdict.state} />
                <span className="text-xs font-normal">
                  <StateWord state={verdict.state} />
                </span>
              </span>
              <span data-testid="said">{verdict.sentence}</span>
            </h1>
            {verdict.toFindOut.length > 0 && (
              <p
                className="mt-1 text-sm text-muted [overflow-wrap:anywhere] sm:pl-15"
                data-testid="to-find-out"
              >
                {words.board.toFindOut(verdict.toFindOut.slice(0, 3), verdict.toFindOut.length - 3)}
              </p>
            )}
            {cure && !held && !readOnly && <Cure key={now.revision} cure={cure} hold={hold} />}
            <Proposed proposed={verdict.proposed} keep={held || readOnly ? undefined : (c) => keepIt(c)} />
          </div>
          {!readOnly && (
            <Safe what={words.broke.question} again={[now.revision]}>
              <NextQuestion questions={kept!.questions} limits={kept!.limits} busy={saving} keep={answer} />
            </Safe>
          )}
        </section>
        {(clash || notice) && (
          <p role="status" className="mb-3 bg-wash px-4 py-2">
            {clash ? w.clash : notice}
          </p>
        )}
        {held && (
          <HeldBar
            held={held}
            saving={saving}
            waiting={save.failureCount > 0 && saving}
            error={(save.error ?? (shown ? null : ghost.error)) as Failure | null}
            effect={shown?.judged.words}
            before={kept!}
            after={shown?.verdict}
            more={pinned === held ? undefined : () => setPinned(held)}
            keep={keep}
            back={() => hold(undefined)}
          />
        )}
        {back.error && <Problems error={back.error} />}
        {!held && save.error && !clash && (
          <div className="mb-3 border-l-4 border-snapped pl-4">
            <Problems error={save.error} />
          </div>
        )}
        <Safe what={words.broke.board} again={[verdict]}>
          {narrow ? (
            <Column verdict={verdict} open={open} onOpen={setOpen} />
          ) : (
            <Board
              kept={kept!}
              lit={lit}
              light={setLit}
              rig={now.rig}
              ghost={drawn}
              open={open}
              onOpen={setOpen}
              onStep={onStep}
              onPick={onPick}
              movesOf={movesOf}
              onHold={onHold}
              onKeep={keep}
              readOnly={readOnly}
            />
          )}
        </Safe>
        <p className="mt-1 text-xs text-muted max-md:hidden">{w.keys}</p>
        {!readOnly && !held && <NewerSheets id={id} revision={now.revision} hold={hold} />}
        <Safe what={words.broke.below} again={[told]}>
          <div className="mt-8 grid grid-cols-[minmax(0,1fr)] gap-x-12 gap-y-8 lg:grid-cols-2">
            <div className="min-w-0">
              <SharedLimits limits={told.limits} />
              <Branches verdict={told} />
            </div>
            <div className="min-w-0">
              <Findings
                verdict={told}
                advising={
                  shown
                    ? shown === ghost.data && shown.verdict.advice?.complete === false && !rest.error
                    : later && !advice.data && !advice.error
                }
                hold={readOnly ? undefined : hold}
                lit={lit}
                light={setLit}
              />
              <NotJudged verdict={told} />
            </div>
          </div>
        </Safe>
      </main>
      {open && (
        <HopPanel
          at={open}
          verdict={verdict}
          rig={shown?.rig ?? now.rig}
          close={() => setOpen(undefined)}
          movesOf={movesOf}
          revision={now.revision}
          hold={readOnly ? undefined : hold}
          held={held}
        />
      )}
    </Frame>
  )
}

function Loading() {
  return (
    <div role="status">
      <p className="text-muted">{w.loading}</p>
      <svg width="100%" height="200" aria-hidden="true" className="mt-6 opacity-40">
        {[30, 90, 150].map((y) => (
          <line
            key={y}
            x1="10"
            x2="98%"
            y1={y}
            y2={y}
            className="rope untested"
            strokeWidth="4"
            strokeDasharray="0 12"
          />
        ))}
      </svg>
    </div>
  )
}

/** The rig's name, changed in place. */
function Name({
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

/** The verdict on one side of a change. */
function Side({ title, verdict: v }: { title: string; verdict: Verdict }) {
  return (
    <div className="flex min-w-0 items-start gap-2">
      <Glyph state={v.state} />
      <div className="min-w-0">
        <dt className="text-xs text-muted">{title}</dt>
        <dd className="break-words">
          <StateWord state={v.state} /> {v.sentence}
        </dd>
      </div>
    </div>
  )
}

/** Whether a change has been held for a while, and the next is not on its way. */
function useResting(held: Change | undefined) {
  const [rests, setRests] = useState<Change>()
  useEffect(() => {
    const t = setTimeout(() => setRests(held), 300)
    return () => clearTimeout(t)
  }, [held])
  return !!held && rests === held
}

/** Whether the page is too narrow for the board: a phone's, or a tablet's in portrait. */
function useNarrow() {
  const [narrow, setNarrow] = useState(() => window.matchMedia('(max-width: 1039px)').matches)
  useEffect(() => {
    const m = window.matchMedia('(max-width: 1039px)')
    const on = () => setNarrow(m.matches)
    m.addEventListener('change', on)
    return () => m.removeEventListener('change', on)
  }, [])
  return narrow
}

function HeldBar(props: {
  held: Change
  saving: boolean
  waiting: boolean
  error: Failure | null
  effect?: string
  before: Verdict
  after?: Verdict
  /** Holds this while more is tried. */
  more?: () => void
  keep: () => void
  back: () => void
}) {
  return (
    <div
      role="status"
      data-testid="held"
      className="fixed inset-x-0 bottom-0 z-40 flex flex-wrap items-center gap-x-6 gap-y-2 border-t-2 border-ink bg-sheet px-6 py-3 shadow-[0_-8px_24px_rgb(0_0_0/0.12)]"
    >
      <div className="min-w-0 flex-1 basis-80">
        <p>
          <b>{w.held}:</b> {props.held.what}
        </p>
        {props.error ? (
          <Problems error={props.error} />
        ) : (
          <p className="text-sm text-muted">
            {props.waiting ? w.waiting : props.effect && `This ${props.effect}.`}
          </p>
        )}
        {props.after && (
          <dl className="mt-1 grid gap-x-6 text-sm sm:grid-cols-2" data-testid="before-after">
            <Side title={w.now} verdict={props.before} />
            <Side title={w.withIt} verdict={props.after} />
          </dl>
        )}
      </div>
      {props.more && (
        <button className="act" disabled={props.saving} onClick={props.more}>
          {w.andMore}
        </button>
      )}
      <button
        className="act act-main"
        disabled={props.saving || !!props.error?.problems.length}
        onClick={props.keep}
      >
        {props.saving ? w.saving : w.keep} <kbd className="ml-1 text-xs opacity-70">{w.keepKey}</kbd>
      </button>
      <button className="act" disabled={props.saving} onClick={props.back}>
        {w.putBack} <kbd className="ml-1 text-xs opacity-70">{w.backKey}</kbd>
      </button>
    </div>
  )
}

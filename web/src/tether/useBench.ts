import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react'
import { useParams } from 'react-router'
import { api, type Board, type Edit, Failure, type Hop, type Move } from '../api/client'
import { keys } from '../api/keys'
import type { Change } from '../parts/change'
import { useRig } from '../parts/useRig'
import { turns } from '../parts/turns'
import { useStable } from '../parts/useStable'
import { words } from '../words'
import { plugOf } from './hops'
import { useHeld } from './useHeld'

const w = words.board

/** Whether a change has been held for a while, and the next is not on its way. */
function useResting(held: Change | undefined) {
  const [rests, setRests] = useState<Change>()
  useEffect(() => {
    const t = setTimeout(() => setRests(held), 300)
    return () => clearTimeout(t)
  }, [held])
  return !!held && rests === held
}

/** A rig on the bench: as it is kept, and as it would be with the change that is held, tried as it is made. */
export function useBench(revision: number) {
  const queries = useQueryClient()
  const [held, setHeld] = useHeld(useParams().id!)
  /** What is held already while more is tried. */
  const [pinned, setPinned] = useState<Change>()
  const live = useRef<{ held?: Change; saving: boolean }>({ held, saving: false })
  const [inTurn] = useState(turns)
  const {
    id,
    board,
    now,
    save,
    step: back,
    backTo,
    clash,
    clashing,
  } = useRig({
    revision,
    onKept: () => {
      live.current = { held: undefined, saving: false } // what comes in turn does not wait for the page to be drawn
      setHeld(undefined)
      setPinned(undefined)
    },
  })
  // The verdict of a large rig is here before its advice is.
  const later = !!now && now.verdict.advice?.complete === false
  const advice = useQuery({
    queryKey: keys.advice(id, now?.revision),
    queryFn: ({ signal }) => api.advice(id, now!.revision, signal),
    enabled: later,
    staleTime: Infinity,
  })
  const kept = (later && advice.data) || now?.verdict
  const [notice, setNotice] = useState<string>()
  const readOnly = !!now && (!now.newest || now.frozen || !!now.deletedAt)

  /** The board as it came in last, drawn or not. */
  const newest = () => (revision > 0 ? now : (queries.getQueryData<Board>(keys.board(id, 0)) ?? now))
  const tried = (edits: Edit[]) => {
    const on = newest()
    return {
      queryKey: keys.tried(id, on?.revision, edits),
      queryFn: () => api.try(on!.rig, edits),
      staleTime: Infinity,
      retry: (n: number, e: Error) => e instanceof Failure && e.away && n < 60,
      retryDelay: 1500,
    }
  }
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

  const saving = save.isPending
  const keepIt = useStable((c: Change) => void inTurn(() => save.settled(c)))
  useEffect(() => {
    live.current = { held, saving }
  })
  const look = (edits: Edit[]) => queries.prefetchQuery(tried(edits))
  const holdNow = useStable((h: Change | undefined) => {
    const both =
      h && pinned && !pinned.edits.every((e, i) => h.edits[i] === e)
        ? { ...h, edits: [...pinned.edits, ...h.edits], what: `${pinned.what}; ${h.what}` }
        : h
    live.current.held = both
    if (both) void look(both.edits) // before anything is drawn
    setHeld(both)
    if (!h) setPinned(undefined)
    save.reset()
  })
  /** Now, or once what is being kept is kept. */
  const after = useStable((job: () => void) => {
    if (live.current.saving) void inTurn(() => Promise.resolve(job()))
    else job()
  })
  const hold = useStable((h: Change | undefined) => after(() => holdNow(h)))
  const whole = useStable(async () => {
    const on = live.current.held
    return on ? (await queries.fetchQuery(tried(on.edits))).rig : newest()!.rig
  })
  const hands = useMemo(() => ({ whole, inTurn }), [whole, inTurn])
  /** One act after another: each is held on top of what is held already. */
  const add = useStable((c: Change) =>
    after(() => {
      const was = live.current.held
      holdNow(
        was
          ? {
              edits: [...was.edits, ...c.edits],
              what: `${was.what}; ${c.what}`,
              notes: [...(was.notes ?? []), ...(c.notes ?? [])],
            }
          : c,
      )
    }),
  )
  /** Keeps what is held, with what was begun before. */
  const keep = useStable(() => {
    void inTurn(async () => {
      const { held, saving } = live.current
      if (held && !saving) await save.settled(held)
    })
  })

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

  return {
    id,
    board,
    now,
    kept,
    verdict,
    told,
    drawn,
    rig: shown?.rig ?? now?.rig,
    held,
    pinned,
    pin: () => setPinned(held),
    hold,
    add,
    hands,
    keep,
    keepIt,
    save,
    saving,
    back,
    backTo,
    clash,
    clashing,
    notice,
    readOnly,
    movesOf,
    onStep,
    onPick,
    onHold,
    answer,
    ghost: { shown, error: shown ? undefined : ghost.error },
    advising: shown
      ? shown === ghost.data && shown.verdict.advice?.complete === false && !rest.error
      : later && !advice.data && !advice.error,
  }
}

/** Escape puts back what is held, Enter keeps it, Control and Z take the last change back. */
export function useBenchKeys(bench: ReturnType<typeof useBench>) {
  const { hold, keep, back, now } = bench
  const live = useRef(bench)
  useEffect(() => {
    live.current = bench
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
}

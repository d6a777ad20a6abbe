import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useState } from 'react'
import { useParams } from 'react-router'
import { api, type Board, Failure } from '../api/client'
import { keys } from '../api/keys'
import type { Change } from './change'
import { type Conflict, conflicts } from './conflicts'
import { rebased } from './rebase'
import { useOtherTabs } from './useOtherTabs'

/** What a change is called is cut here, where many acts are kept as one. */
const longestWhat = 480

/** Two changes of the same thing, and the two ways out. */
export type Clashing = { what: string; of: Conflict[]; mine: () => void; theirs: () => void }

/** A change of what somebody else has changed since. */
class Met extends Error {
  constructor(
    readonly change: Change,
    readonly base: Board,
    readonly of: Conflict[],
  ) {
    super('changed by somebody else meanwhile')
  }
}

/**
 * The rig of the address, judged, with the ways to change it and to take a change back. clash tells that somebody else
 * changed it meanwhile: it is asked for again.
 */
export function useRig({ revision = 0, onKept }: { revision?: number; onKept?: () => void } = {}) {
  const id = useParams().id!
  const queries = useQueryClient()
  const [clash, setClash] = useState(false)
  const [met, setMet] = useState<Met>()
  const board = useQuery({ queryKey: keys.board(id, revision), queryFn: () => api.board(id, revision) })
  const now = board.data
  const tell = useOtherTabs(
    useCallback(
      (n: { id: string; revision: number }) => {
        const here = queries.getQueryData<Board>(keys.board(n.id, 0))
        if (n.id === id && here && n.revision > here.revision && !queries.isMutating())
          void queries.invalidateQueries({ queryKey: keys.board(id) })
      },
      [queries, id],
    ),
  )
  const settle = useCallback(
    (b: Board) => {
      queries.setQueryData(keys.board(id, 0), b)
      tell({ id, revision: b.revision })
      void queries.invalidateQueries({ queryKey: keys.rigs })
      void queries.invalidateQueries({ queryKey: keys.history(id) })
      setClash(false)
      setMet(undefined)
    },
    [queries, id, tell],
  )
  const onError = (e: Error) => {
    if (e instanceof Met) setMet(e)
    if (e instanceof Failure && e.status === 409) {
      setClash(true)
      void queries.invalidateQueries({ queryKey: keys.board(id) })
    }
  }
  // One change at a time, each on what the last one left: a hand is quicker than an answer.
  const kept = useMutation({
    scope: { id: `rig ${id}` },
    mutationFn: async ({ change: c, base, sure }: { change: Change; base: Board; sure?: boolean }) => {
      const what = c.what.length > longestWhat ? `${c.what.slice(0, longestWhat - 1)}…` : c.what
      // What others changed meanwhile stays; of the same thing both values are shown.
      const onto = (newest: Board) => {
        const of = sure ? [] : conflicts(c.edits, base.rig, newest.rig)
        if (of.length) throw new Met(c, base, of)
        return api.edit(id, newest.revision, rebased(c.edits, base, newest), what)
      }
      const newest = queries.getQueryData<Board>(keys.board(id, 0))
      if (revision > 0) return api.edit(id, base.revision, c.edits, what)
      if (newest && newest.revision > base.revision) return onto(newest)
      try {
        return await api.edit(id, base.revision, c.edits, what)
      } catch (e) {
        if (!(e instanceof Failure) || e.status !== 409) throw e
        const fresh = await api.board(id, 0)
        queries.setQueryData(keys.board(id, 0), fresh)
        return onto(fresh)
      }
    },
    retry: (_, e) => e instanceof Failure && e.away,
    retryDelay: 1500,
    onSuccess: (b) => {
      settle(b)
      onKept?.()
    },
    onError,
  })
  const save = {
    ...kept,
    mutate: (change: Change) => now && kept.mutate({ change, base: now }),
    /** The same, and over once it is kept or refused: tells which. */
    settled: async (change: Change) =>
      !!now &&
      kept.mutateAsync({ change, base: now }).then(
        () => true,
        () => false,
      ),
  }
  const step = useMutation({
    scope: { id: `rig ${id}` },
    mutationFn: (redo: boolean) => (redo ? api.redo(id, now!.revision) : api.undo(id, now!.revision)),
    onSuccess: settle,
    onError,
  })
  const backTo = useMutation({
    scope: { id: `rig ${id}` },
    mutationFn: (to: number) => api.backTo(id, now!.revision, to),
    onSuccess: settle,
    onError,
  })
  const clashing: Clashing | undefined = met && {
    what: met.change.what,
    of: met.of,
    mine: () => kept.mutate({ change: met.change, base: met.base, sure: true }),
    theirs: () => {
      setMet(undefined)
      kept.reset()
    },
  }
  return { id, board, now, save, step, backTo, clash, clashing, settle }
}

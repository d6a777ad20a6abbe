import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useState } from 'react'
import { useParams } from 'react-router'
import { api, type Board, Failure } from '../api/client'
import { keys } from '../api/keys'
import type { Change } from './change'
import { rebased } from './rebase'
import { useOtherTabs } from './useOtherTabs'

/** What a change is called is cut here, where many acts are kept as one. */
const longestWhat = 480

/**
 * The rig of the address, judged, with the ways to change it and to take a change back. clash tells that somebody else
 * changed it meanwhile: it is asked for again.
 */
export function useRig({ revision = 0, onKept }: { revision?: number; onKept?: () => void } = {}) {
  const id = useParams().id!
  const queries = useQueryClient()
  const [clash, setClash] = useState(false)
  const board = useQuery({ queryKey: keys.board(id, revision), queryFn: () => api.board(id, revision) })
  const now = board.data
  const tell = useOtherTabs(
    useCallback(
      (n: { id: string; revision: number }) => {
        const here = queries.getQueryData<Board>(keys.board(n.id, 0))
        if (n.id === id && here && n.revision > here.revision)
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
    },
    [queries, id, tell],
  )
  const onError = (e: Error) => {
    if (e instanceof Failure && e.status === 409) {
      setClash(true)
      void queries.invalidateQueries({ queryKey: keys.board(id) })
    }
  }
  // One change at a time, each on what the last one left: a hand is quicker than an answer.
  const kept = useMutation({
    scope: { id: `rig ${id}` },
    mutationFn: ({ change: c, base }: { change: Change; base: Board }) => {
      const what = c.what.length > longestWhat ? `${c.what.slice(0, longestWhat - 1)}…` : c.what
      const newest = queries.getQueryData<Board>(keys.board(id, 0))
      if (revision > 0 || !newest || newest.revision <= base.revision)
        return api.edit(id, base.revision, c.edits, what)
      return api.edit(id, newest.revision, rebased(c.edits, base, newest), what)
    },
    retry: (_, e) => e instanceof Failure && e.away,
    retryDelay: 1500,
    onSuccess: (b) => {
      settle(b)
      onKept?.()
    },
    onError,
  })
  const save = { ...kept, mutate: (change: Change) => now && kept.mutate({ change, base: now }) }
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
  return { id, board, now, save, step, backTo, clash, settle }
}

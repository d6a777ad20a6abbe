import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useParams } from 'react-router'
import { api, type Board, type Edit, Failure } from '../api/client'

/** The rig of the address, judged, with the ways to change it and to take a change back. */
export function useRig() {
  const id = useParams().id!
  const queries = useQueryClient()
  const board = useQuery({ queryKey: ['board', id, 0], queryFn: () => api.board(id) })
  const now = board.data
  const settle = (b: Board) => {
    queries.setQueryData(['board', id, 0], b)
    void queries.invalidateQueries({ queryKey: ['rigs'] })
    void queries.invalidateQueries({ queryKey: ['history', id] })
  }
  const save = useMutation({
    mutationFn: (e: { edits: Edit[]; what: string }) => api.edit(id, now!.revision, e.edits, e.what),
    retry: (_, e) => e instanceof Failure && e.away,
    retryDelay: 1500,
    onSuccess: settle,
    onError: (e) => {
      if (e instanceof Failure && e.status === 409)
        void queries.invalidateQueries({ queryKey: ['board', id] })
    },
  })
  const back = useMutation({ mutationFn: () => api.undo(id, now!.revision), onSuccess: settle })
  return { id, board, now, save, back }
}

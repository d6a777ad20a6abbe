import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, type Board, type Failure } from '../api/client'
import { keys } from '../api/keys'
import { words } from '../words'
import { Problems } from './Frame'

/** Says that a rig was deleted, and offers it back; nothing for one that was not. */
export function Deleted({ board }: { board: Board }) {
  const queries = useQueryClient()
  const back = useMutation({
    mutationFn: () => api.restore(board.id),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: keys.board(board.id) })
      void queries.invalidateQueries({ queryKey: keys.rigs })
    },
  })
  if (!board.deletedAt) return null
  return (
    <div role="status" className="mb-3 bg-wash px-4 py-2" data-testid="deleted">
      <p>
        {words.board.deleted(new Date(board.deletedAt).toLocaleDateString('en-GB', { dateStyle: 'long' }))}{' '}
        <button className="quiet font-semibold" disabled={back.isPending} onClick={() => back.mutate()}>
          {words.board.bringBack}
        </button>
      </p>
      {back.error && <Problems error={back.error as Failure} />}
    </div>
  )
}

import { useNavigate } from 'react-router'
import { type Board, fileAddress } from '../api/client'
import { words } from '../words'
import { History } from './History'
import type { useRig } from './useRig'

const w = words.board

/** What can be done with a rig on every screen of it: undo, redo, its history, its file, its text. */
export function RigActions({
  id,
  now,
  revision = 0,
  step,
  backTo,
  look,
}: {
  id: string
  now: Board
  revision?: number
  step: ReturnType<typeof useRig>['step']
  backTo: ReturnType<typeof useRig>['backTo']
  /** Shows a revision; on the board where a screen cannot. */
  look?: (revision: number) => void
}) {
  const go = useNavigate()
  const readOnly = !now.newest || now.frozen || !!now.deletedAt
  const show = look ?? ((n: number) => void go(n ? `/rigs/${id}?revision=${n}` : `/rigs/${id}`))
  return (
    <>
      <button
        className="quiet disabled:text-muted disabled:no-underline"
        disabled={readOnly || !now.undo || step.isPending}
        title={now.undoes && w.undoOf(now.undoes)}
        aria-label={now.undoes ? w.undoOf(now.undoes) : w.undo}
        onClick={() => step.mutate(false)}
      >
        {w.undo}
      </button>
      <button
        className="quiet disabled:text-muted disabled:no-underline"
        disabled={readOnly || !now.redo || step.isPending}
        title={now.redoes && w.redoOf(now.redoes)}
        aria-label={now.redoes ? w.redoOf(now.redoes) : w.redo}
        onClick={() => step.mutate(true)}
      >
        {w.redo}
      </button>
      <History
        id={id}
        shown={now.revision}
        look={show}
        back={readOnly ? undefined : (n) => backTo.mutate(n)}
      />
      <a className="quiet" href={fileAddress(id, revision)} download>
        {w.export}
      </a>
      <a className="quiet" href={fileAddress(id, revision, 'text')} download>
        {w.exportText}
      </a>
    </>
  )
}

import type { ReactNode } from 'react'
import { useLocation } from 'react-router'
import type { Board } from '../api/client'
import { words } from '../words'
import { Clash } from './Clash'
import { Deleted } from './Deleted'
import { Frame, Problems } from './Frame'
import { RigActions } from './RigActions'
import { Glyph } from './Rope'
import { Safe } from './Safe'
import { StateWord } from './StateWord'
import { useRig } from './useRig'
import { useTitle } from './useTitle'

type Save = ReturnType<typeof useRig>['save']

/** A screen of one rig: its name, undo, how it stands, and what went wrong with the last change. */
export function RigPage({
  title,
  line,
  actions,
  children,
}: {
  title: string
  /** What is settled, what is open, what is next. */
  line: (now: Board) => ReactNode
  actions?: ReactNode
  children: (now: Board, save: Save) => ReactNode
}) {
  const { id, board, now, save, step, backTo, clashing } = useRig()
  const screen = useLocation().pathname.split('/').at(-1) as keyof typeof words.nav
  useTitle(now?.name, words.nav[screen] ?? title)
  if (!now)
    return (
      <Frame rig={id}>
        <main className="p-8">
          {board.error ? <Problems error={board.error} /> : <p role="status">{words.board.loading}</p>}
        </main>
      </Frame>
    )
  const error = save.error ?? step.error ?? backTo.error
  return (
    <Frame
      rig={id}
      title={<span className="block truncate">{now.name}</span>}
      actions={
        <>
          {actions}
          <RigActions id={id} now={now} step={step} backTo={backTo} />
        </>
      }
    >
      <main className="px-6 pb-24 max-sm:px-4">
        <Deleted board={now} />
        <section className="flex flex-wrap items-start gap-x-8 gap-y-2 py-5 print:hidden" aria-live="polite">
          <div className="min-w-0 flex-1 basis-96">
            <h1 className="text-2xl font-semibold tracking-tight">{title}</h1>
            <p className="mt-1" data-testid="open">
              {line(now)}
            </p>
          </div>
          <p className="flex max-w-xl items-start gap-3">
            <Glyph state={now.verdict.state} />
            <span>
              <StateWord state={now.verdict.state} /> {now.verdict.sentence}
            </span>
          </p>
        </section>
        {clashing && <Clash clash={clashing} />}
        {error && !clashing && (
          <div className="mb-4 border-l-4 border-snapped pl-4">
            <Problems error={error} />
          </div>
        )}
        <Safe what={words.broke.screen} again={[now]}>
          <Inside draw={() => children(now, save)} />
        </Safe>
      </main>
    </Frame>
  )
}

/** Draws inside what keeps it from breaking the page around it. */
function Inside({ draw }: { draw: () => ReactNode }) {
  return draw()
}

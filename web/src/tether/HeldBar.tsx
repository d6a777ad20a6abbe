import type { Failure, Verdict } from '../api/client'
import type { Change } from '../parts/change'
import { Problems } from '../parts/Frame'
import { Glyph } from '../parts/Rope'
import { StateWord } from '../parts/StateWord'
import { words } from '../words'

const w = words.board

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

/** What is held, what it does, and the way to keep it or to put it back. */
export function HeldBar(props: {
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
        {!!props.held.notes?.length && (
          <p className="text-sm" data-testid="held-notes">
            {props.held.notes.join('. ')}.
          </p>
        )}
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

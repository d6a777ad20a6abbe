import { PictureFrame } from '../look/PictureFrame'
import { Takes } from '../look/Takes'
import type { Change } from '../parts/change'
import { words } from '../words'
import { Findings } from './Findings'
import { HeldTable } from './HeldTable'
import { TimeReport } from './TimeReport'
import { Timeline } from './Timeline'
import type { Inspection } from './clip'

const w = words.inspect

/** What a clip came to: the sentence, what was found, the sheet line by line, its course, how it is coded. */
export function InspectReport({ one: i, keep }: { one: Inspection; keep: (c: Change) => Promise<boolean> }) {
  const d = i.inspected!
  const open = d.findings.filter((f) => f.state === 'snapped' || f.state === 'kinked')
  const shown = ['overlay', 'border', 'start'].map((k) => i.shots.find((s) => s.of === k)).find((s) => s)
  const untold = d.findings.filter((f) => f.state === 'untested')
  const well = d.findings.filter((f) => f.state === 'slack' || f.state === 'taut')
  return (
    <article className="mt-6" data-testid="inspected" aria-live="polite">
      <h2 className="truncate border-b border-ink pb-1 text-lg font-semibold">{i.name}</h2>
      <p className="mt-2 font-semibold">{d.sentence}</p>
      {[...i.notes, ...(i.cut ? [words.look.cut(i.cut)] : [])].map((n) => (
        <p key={n} className="text-sm text-muted">
          {n}
        </p>
      ))}
      {open.length > 0 && <Findings of={open} />}
      {d.looked.frame && <PictureFrame frame={d.looked.frame} jpeg={shown?.jpeg} />}
      {d.held && <HeldTable held={d.held} />}
      <Timeline one={d} shots={i.shots} />
      <TimeReport one={i} keep={keep} />
      <section className="mt-6">
        <h3 className="font-semibold">{w.coded}</h3>
        <dl className="mt-2 grid max-w-3xl grid-cols-[8rem_1fr] gap-x-4 gap-y-1 text-sm max-sm:grid-cols-1">
          {[...d.coded, ...d.looked.figures].map((f) => (
            <div key={f.what} className="contents">
              <dt className="text-muted">{f.what}</dt>
              <dd className="tabular-nums">{f.says}</dd>
            </div>
          ))}
        </dl>
        {d.whole?.says && <p className="mt-2 text-sm">{d.whole.says}</p>}
      </section>
      {d.looked.takes.length > 0 && <Takes takes={d.looked.takes} of={i.name} keep={keep} />}
      {untold.length > 0 && (
        <details className="mt-5 text-sm">
          <summary className="cursor-pointer">{w.untold(untold.length)}</summary>
          <Findings of={untold} />
        </details>
      )}
      <details className="mt-2 text-sm">
        <summary className="cursor-pointer">{words.look.clear(well.length)}</summary>
        <Findings of={well} />
      </details>
    </article>
  )
}

import { useQuery } from '@tanstack/react-query'
import { api, type Board, type Failure, type School } from '../api/client'
import { keys } from '../api/keys'
import type { Change } from '../parts/change'
import { Problems } from '../parts/Frame'
import { StateWord } from '../parts/StateWord'
import { words } from '../words'

const w = words.habits

/** Where habits differ: what each says for itself, and what this rig makes of it. */
export function Habits({ now, keep }: { now: Board; keep: (c: Change) => void }) {
  const { data, error } = useQuery({
    queryKey: keys.habits(now.id, now.revision),
    queryFn: () => api.habits(now.id),
    placeholderData: (was) => was,
  })
  return (
    <section className="min-w-0 lg:col-span-2" data-testid="habits">
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.title}</h2>
      <p className="text-sm text-muted">{w.help}</p>
      {error && !data && <Problems error={error as Failure} />}
      {!error && !data && <p role="status">{words.board.loading}</p>}
      <div className="gap-x-10 lg:columns-2">
        {data?.map((s) => (
          <details
            key={s.id}
            className="break-inside-avoid border-b border-hair py-1.5 text-sm"
            data-habit={s.id}
          >
            <summary className="cursor-pointer break-words">
              <span className="font-semibold">{s.question}</span>{' '}
              <span className="text-muted">{settled(s)}</span>
            </summary>
            <ul>
              {s.options.map((o) => (
                <li
                  key={o.title}
                  className="grid grid-cols-[minmax(0,1fr)_auto] items-baseline gap-x-4 py-1"
                  data-now={o.now || undefined}
                >
                  <span className="min-w-0">
                    <b className={o.now ? '' : 'font-medium'}>{o.title}</b>{' '}
                    <span className="text-muted">{o.why}</span>{' '}
                    {o.state && (
                      <span className="whitespace-nowrap">
                        <StateWord state={o.state} /> {w.counts(o.over, o.open)}
                      </span>
                    )}
                  </span>
                  <span className="text-right">
                    {o.asProposed && <span className="text-muted">{w.asProposed} </span>}
                    {o.now ? (
                      <span className="text-muted">{w.now}</span>
                    ) : o.edits.length > 0 ? (
                      <button
                        className="act"
                        disabled={now.frozen}
                        onClick={() => keep({ edits: o.edits, what: `${s.question} ${o.title}` })}
                      >
                        {w.take}
                      </button>
                    ) : (
                      <span className="text-muted">{w.notHere}</span>
                    )}
                    {!o.now && o.edits.length > 0 && (
                      <span className="block text-muted tabular-nums">
                        {w.effort(o.minutes, o.cost ? `~${o.cost.amount} ${o.cost.currency}` : '')}
                      </span>
                    )}
                  </span>
                </li>
              ))}
            </ul>
          </details>
        ))}
      </div>
    </section>
  )
}

/** How the rig is, or how it is judged where nobody has said. */
function settled(s: School): string {
  const now = s.options.find((o) => o.now)
  if (now) return now.title
  const as = s.options.find((o) => o.asProposed)
  return as ? w.proposed(as.title) : w.neither
}

import { useQuery } from '@tanstack/react-query'
import { api, type Feed, type Rig } from '../api/client'
import { keys } from '../api/keys'
import { Problems } from '../parts/Frame'
import { words } from '../words'
import type { Change } from '../parts/change'

const w = words.agree

/** The picture lead a hop belongs to: its own, the one that leaves its socket, or the one that comes into its box. */
export function pictureLead(feed: Feed, index: number): string | undefined {
  const hop = feed.hops[index]
  const lead =
    hop?.stage === 'socket' ? feed.hops[index + 1] : hop?.kind === 'item' ? feed.hops[index - 1] : hop
  return lead?.stage === 'lead' && lead.kind === 'lead' ? lead.ref : undefined
}

/** What the two ends of a lead agree on, why the rest fails, and what to try when nothing shows. */
export function AgreementOf({
  rig,
  lead,
  revision,
  hold,
}: {
  rig: Rig
  lead: string
  revision: number
  hold?: (h: Change) => void
}) {
  const ask = useQuery({
    queryKey: keys.agreement(revision, lead, rig),
    queryFn: () => api.agree(rig, lead),
    staleTime: Infinity,
  })
  if (ask.error) return <Problems error={ask.error} />
  const a = ask.data
  if (!a) return null
  return (
    <section className="mt-6" data-testid="agreement">
      <h3 className="border-b border-ink pb-1 font-semibold">{w.title(a.source, a.sink)}</h3>
      <p className="mt-1 text-sm text-muted">
        {w.now} {a.now || w.nobody}
        {a.auto && `; ${w.auto} ${a.auto}`}
      </p>
      {a.takes.length === 0 && <p className="mt-1 text-sm">{w.none}</p>}
      <ul className="text-sm">
        {a.takes.slice(0, 12).map((m, i) => (
          <li key={i} className="flex flex-wrap items-baseline gap-x-2 border-b border-hair py-1">
            <span className={m.now ? 'font-semibold' : ''}>{m.name}</span>
            {m.now && <span className="text-xs">{w.isNow}</span>}
            {i === 0 && a.best && <span className="text-xs font-semibold text-slack">{w.best}</span>}
            {!m.sure && <span className="text-xs text-untested">{w.unsure}</span>}
            <span className="text-xs text-muted">{m.movement}</span>
            {hold && m.edits.length > 0 && (
              <button
                className="quiet ml-auto text-xs font-semibold"
                aria-label={`${words.board.try}: ${m.name}`}
                onClick={() => hold({ edits: m.edits, what: w.set(a.source, m.name) })}
              >
                {words.board.try}
              </button>
            )}
          </li>
        ))}
      </ul>
      {a.takes.length > 12 && <p className="text-xs text-muted">{w.more(a.takes.length - 12)}</p>}
      {a.fails.length > 0 && (
        <details className="mt-2 text-sm">
          <summary className="text-muted">{w.fails(a.fails.length)}</summary>
          <ul>
            {a.fails.map((f, i) => (
              <li key={i} className="border-b border-hair py-0.5">
                {f.name}: {f.why}
              </li>
            ))}
          </ul>
        </details>
      )}
      <details className="mt-2 text-sm">
        <summary className="text-muted">{w.try}</summary>
        <ol className="list-decimal pl-5">
          {a.try.map((t) => (
            <li key={t}>{t}</li>
          ))}
        </ol>
      </details>
    </section>
  )
}

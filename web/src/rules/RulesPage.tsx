import { useQuery } from '@tanstack/react-query'
import { useEffect } from 'react'
import { useLocation } from 'react-router'
import { api } from '../api/client'
import { keys } from '../api/keys'
import { Frame, Problems } from '../parts/Frame'
import { useTitle } from '../parts/useTitle'
import { words } from '../words'

const w = words.rules

/** Every rule: what it asks, its sum, where it comes from, what happens when it is over, and a worked case. */
export function RulesPage() {
  useTitle(w.title)
  const { hash } = useLocation()
  const rules = useQuery({ queryKey: keys.rules, queryFn: () => api.rules(), staleTime: Infinity })
  const there = !!rules.data
  useEffect(() => {
    if (there && hash) document.getElementById(hash.slice(1))?.scrollIntoView()
  }, [there, hash])
  if (!rules.data)
    return (
      <Frame>
        <main className="p-8">
          {rules.error ? <Problems error={rules.error} /> : <p role="status">{w.loading}</p>}
        </main>
      </Frame>
    )
  const subjects = [...new Set(rules.data.map((r) => r.subject))]
  return (
    <Frame>
      <main className="mx-auto max-w-4xl px-6 pb-24 max-sm:px-4">
        <h1 className="pt-5 text-2xl font-semibold tracking-tight">{w.title}</h1>
        <p className="mt-1 max-w-prose">{w.line(rules.data.length)}</p>
        {subjects.map((subject) => (
          <section key={subject} className="mt-6">
            <h2 className="border-b border-ink pb-1 text-lg font-semibold">{subject}</h2>
            {rules.data
              .filter((r) => r.subject === subject)
              .map((r) => (
                <article
                  key={r.id}
                  id={r.id}
                  className="scroll-mt-4 border-b border-hair py-3 target:border-l-4 target:border-l-ink target:pl-3"
                >
                  <h3 className="font-semibold">
                    {r.asks} <span className="text-xs font-normal text-muted">{r.id}</span>
                  </h3>
                  <dl className="mt-1 grid grid-cols-[7rem_1fr] gap-x-4 text-sm max-sm:grid-cols-1">
                    {r.sum && (
                      <>
                        <dt className="text-muted">{w.sum}</dt>
                        <dd>
                          {r.sum}
                          {r.unit && ` [${r.unit}]`}
                        </dd>
                      </>
                    )}
                    <dt className="text-muted">{w.over}</dt>
                    <dd>{r.over}</dd>
                    <dt className="text-muted">{w.from}</dt>
                    <dd>{r.source}</dd>
                    <dt className="text-muted">{w.example}</dt>
                    <dd>{r.example}</dd>
                  </dl>
                </article>
              ))}
          </section>
        ))}
      </main>
    </Frame>
  )
}

import { useQuery } from '@tanstack/react-query'
import { Tabs } from 'radix-ui'
import { useState } from 'react'
import { api, type Board, type Sending, sheetAddress } from '../api/client'
import { keys } from '../api/keys'
import { words } from '../words'

const w = words.send

type Part = Sending['sheet']['parts'][number]

/** Every value to type into the program, part by part; what matters most first. */
export function SheetView({ now, send, held }: { now: Board; send: Sending; held: boolean }) {
  const [since, setSince] = useState(0)
  const older = useQuery({
    queryKey: keys.sheetSince(now.id, since, now.rig),
    queryFn: async () => api.send(now.rig, [], (await api.board(now.id, since)).rig),
    enabled: since > 0,
    staleTime: Infinity,
  })
  const sheet = since > 0 && !held && older.data ? older.data.sheet : send.sheet
  const first = sheet.parts.find((p) => p.kind === 'stream') ?? sheet.parts[0]
  const [tab, setTab] = useState<string>()
  if (!first) return null
  const open = sheet.parts.some((p) => p.id === tab) ? tab! : first.id
  return (
    <section className="mt-6" aria-labelledby="sheet">
      <div className="flex flex-wrap items-end justify-between gap-3 border-b border-ink pb-1">
        <h2 id="sheet" className="font-semibold">
          {w.sheet}
        </h2>
        <p className="flex flex-wrap items-center gap-3 text-sm print:hidden">
          {now.revision > 1 && (
            <label className="flex items-center gap-2">
              {w.since}
              <select className="field" value={since} onChange={(e) => setSince(Number(e.target.value))}>
                <option value={0}>{w.noOlder}</option>
                {Array.from({ length: Math.min(20, now.revision - 1) }, (_, k) => now.revision - 1 - k).map(
                  (n) => (
                    <option key={n} value={n}>
                      {w.state(n)}
                    </option>
                  ),
                )}
              </select>
            </label>
          )}
          {!held &&
            (['text', 'markdown', 'csv', 'json', 'command'] as const).map((as) => (
              <a key={as} className="quiet" href={sheetAddress(now.id, now.revision, as)} download>
                {w.files[as]}
              </a>
            ))}
          <button className="quiet" onClick={() => window.print()}>
            {w.print}
          </button>
        </p>
      </div>
      <Tabs.Root value={open} onValueChange={setTab} className="mt-2">
        <Tabs.List className="flex flex-wrap gap-x-5 gap-y-1 text-sm print:hidden" aria-label={w.sheet}>
          {sheet.parts.map((p) => (
            <Tabs.Trigger
              key={p.id}
              value={p.id}
              className="border-b-2 border-transparent py-0.5 data-[state=active]:border-ink data-[state=active]:font-semibold"
            >
              {p.name}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        {sheet.parts.map((p) => (
          <Tabs.Content
            key={p.id}
            value={p.id}
            forceMount
            className="data-[state=inactive]:hidden print:!block"
          >
            <PartView part={p} />
          </Tabs.Content>
        ))}
      </Tabs.Root>
    </section>
  )
}

/** Whether a text is in the clipboard by now: pages that are not trusted have none, and a browser may refuse. */
async function copy(text: string) {
  try {
    await navigator.clipboard.writeText(text)
    return true
  } catch {
    return false
  }
}

function Copy({
  text,
  label,
  says = w.copy,
  whole,
}: {
  text: string
  label: string
  says?: string
  whole?: boolean
}) {
  const [done, setDone] = useState<'copied' | 'notCopied'>()
  return (
    <button
      className={`${whole ? 'act' : 'quiet inline-flex min-h-6 items-center text-xs'} print:hidden`}
      aria-label={`${says}: ${label}`}
      onClick={() => void copy(text).then((there) => setDone(there ? 'copied' : 'notCopied'))}
      onBlur={() => setDone(undefined)}
    >
      <span role="status">{done ? w[done] : says}</span>
    </button>
  )
}

function PartView({ part: p }: { part: Part }) {
  const [all, setAll] = useState(false)
  const few = p.lines.filter((l) => l.matters < 3 || l.was)
  const text = p.lines.map((l) => `${l.name}: ${l.value}${l.unit ? ` ${l.unit}` : ''}`).join('\n')
  return (
    <div className="mt-2" data-part={p.id}>
      <h3 className="hidden font-semibold print:block">{p.name}</h3>
      {p.note && <p className="max-w-4xl text-sm">{p.note}</p>}
      <div className="overflow-x-auto">
        <table className="mt-1 w-full text-sm">
          <thead>
            <tr className="text-left text-xs text-muted">
              <th className="py-1 font-normal">{w.field}</th>
              <th className="px-3 font-normal">{w.value}</th>
              <th className="font-normal">{w.why}</th>
            </tr>
          </thead>
          <tbody>
            {p.lines.map((l) => (
              <tr
                key={l.id}
                className={`border-t border-hair align-top ${all || few.includes(l) ? '' : 'hidden print:table-row'}`}
                data-line={l.id}
              >
                <th scope="row" className="py-0.5 pr-3 text-left font-normal">
                  <span className={l.matters === 1 ? 'font-semibold' : ''}>{l.name}</span>
                  {l.also.length > 0 && <span className="text-xs text-muted"> {l.also.join(', ')}</span>}
                </th>
                <td className="px-3 py-0.5 whitespace-nowrap tabular-nums">
                  <b className={l.how === 'proposed' ? 'underline decoration-dotted' : ''}>
                    {l.value}
                    {l.unit ? ` ${l.unit}` : ''}
                  </b>{' '}
                  <Copy text={l.value} label={l.name} />
                  <span className="ml-1 text-xs font-normal text-muted">
                    {w.hows[l.how]}
                    {l.was && <span className="text-taut">, {w.was(l.was)}</span>}
                  </span>
                </td>
                <td className="py-0.5">
                  <details>
                    <summary className="min-h-6 cursor-pointer list-none leading-6">
                      {l.why} <span className="text-xs text-muted underline print:hidden">{w.more}</span>
                    </summary>
                    <span className="text-xs text-muted">
                      {l.source}
                      {l.changes ? `. ${w.changes} ${l.changes}` : ''}
                    </span>
                  </details>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="mt-2 flex flex-wrap items-center gap-4 text-sm">
        {few.length < p.lines.length && (
          <button className="act print:hidden" aria-expanded={all} onClick={() => setAll(!all)}>
            {all ? w.fewer : w.allLines(p.lines.length)}
          </button>
        )}
        <Copy text={text} label={p.name} says={w.copyAll} whole />
        {p.command && <Copy text={p.command} label={p.name} says={w.copyCommand} whole />}
      </p>
      {p.command && (
        <details className="text-sm print:hidden">
          <summary className="cursor-pointer text-muted">{w.commandHelp}</summary>
          <pre className="mt-1 overflow-x-auto bg-wash p-2 text-xs whitespace-pre-wrap break-all">
            {p.command}
          </pre>
        </details>
      )}
    </div>
  )
}

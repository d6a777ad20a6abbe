import { useQuery } from '@tanstack/react-query'
import { Dialog } from 'radix-ui'
import { useState } from 'react'
import type { Limit, Move, Rig, Verdict } from '../api/client'
import { Glyph } from '../parts/Rope'
import { StateWord } from '../parts/StateWord'
import { words } from '../words'
import { AgreementOf, pictureLead } from './Agreement'
import { type HopAt, plugOf } from './Board'
import { Fix } from './Findings'
import { bounds, figure } from './figures'
import type { Held } from './TetherPage'
import { Ways } from './Ways'

const w = words.hop

type Props = {
  at: HopAt
  verdict: Verdict
  rig: Rig
  close: () => void
  movesOf: (of: string) => Promise<Move[]>
  revision: number
  hold?: (h: Held) => void
  held?: Held
}

/** One hop opened: the sum with numbers and units, where the rule comes from, how sure each fact is, what would fix it. */
export function HopPanel(props: Props) {
  const feed = props.verdict.feeds.find((f) => f.id === props.at.feed)
  const hop = feed?.hops[props.at.index]
  const targets = hop
    ? [
        ...new Set(
          [hop.ref.split('.')[0]!, plugOf(hop)].filter((t): t is string => !!t && hop.kind !== 'rig'),
        ),
      ]
    : []
  const moves = useQuery({
    queryKey: ['panel', props.revision, targets],
    queryFn: async () => (await Promise.all(targets.map(props.movesOf))).flat(),
    enabled: targets.length > 0,
  })
  if (!feed || !hop) return null
  const lead = pictureLead(feed, props.at.index)
  const limits = hop.limits
    .map((id) => props.verdict.limits.find((l) => l.id === id))
    .filter((l): l is Limit => !!l)
  const kinds = [...new Set(moves.data?.map((m) => m.kind))]
  return (
    <Dialog.Root open modal={false} onOpenChange={(o) => !o && props.close()}>
      <Dialog.Portal>
        <Dialog.Content
          className="fixed top-[49px] right-0 bottom-0 z-20 w-[min(27rem,100vw)] overflow-y-auto border-l-2 border-ink bg-sheet p-5 pb-32 shadow-[-8px_0_24px_rgb(0_0_0/0.12)]"
          onInteractOutside={(e) => e.preventDefault()}
          onEscapeKeyDown={(e) => props.held && e.preventDefault()}
          data-testid="panel"
        >
          <div className="flex items-start justify-between gap-4">
            <div>
              <p className="text-xs text-muted">
                {words.stages[hop.stage]} · {feed.label}
              </p>
              <Dialog.Title className="text-xl font-semibold">{hop.label}</Dialog.Title>
              <Dialog.Description className="text-sm text-muted">{hop.detail}</Dialog.Description>
            </div>
            <Dialog.Close className="act text-sm">{w.close}</Dialog.Close>
          </div>
          {limits.length === 0 && <p className="mt-4 text-muted">{w.none}</p>}
          {limits.map((l) => (
            <LimitCard key={l.id} limit={l} hold={props.hold} />
          ))}
          {hop.stage === 'camera' &&
            props.rig.items.find((i) => i.id === hop.ref)?.gear.kind !== 'computer' && (
              <Ways rig={props.rig} item={hop.ref} label={hop.label} hold={props.hold} />
            )}
          {lead && <AgreementOf rig={props.rig} lead={lead} revision={props.revision} hold={props.hold} />}
          {props.hold && (
            <section className="mt-6">
              <h3 className="border-b border-ink pb-1 font-semibold">{w.moves}</h3>
              {moves.data?.length === 0 && <p className="mt-2 text-sm text-muted">{w.noMoves}</p>}
              {kinds.map((k) => (
                <div key={k} className="mt-3">
                  <h4 className="text-sm text-muted">{w.kinds[k] ?? k}</h4>
                  {moves
                    .data!.filter((m) => m.kind === k)
                    .map((m) => (
                      <div key={m.id} className="border-b border-hair py-1">
                        <Fix move={m} hold={props.hold!} />
                        {m.judged && m.judged.words !== 'changes no verdict' && (
                          <p className="text-xs text-muted">{m.judged.words}</p>
                        )}
                      </div>
                    ))}
                </div>
              ))}
            </section>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}

const senses: Record<string, string> = { 'at-most': w.atMost, 'at-least': w.atLeast, within: w.within }

function LimitCard({ limit: l, hold }: { limit: Limit; hold?: (h: Held) => void }) {
  return (
    <section className="mt-5" data-limit={l.id}>
      <div className="flex items-center gap-3 border-b border-hair pb-1">
        <Glyph state={l.state} room={Math.max(0, 1 - l.ratio.high)} />
        <h3 className="flex-1 font-semibold">{l.what}</h3>
        <span className="text-right">
          <StateWord state={l.state} /> {l.share}
        </span>
      </div>
      <p className="mt-1">{l.says}</p>
      {l.sense !== 'fits' && (
        <table className="mt-2 w-full text-sm">
          <caption className="sr-only">{w.sum}</caption>
          <tbody>
            {l.loads.map((ld, i) => (
              <tr key={i} className="align-top">
                <td className="py-0.5 pr-3">
                  {ld.label}
                  <span className="block text-xs text-muted">{ld.sum}</span>
                </td>
                <td className="py-0.5 text-right whitespace-nowrap">{figure(ld, l.unit, ld.est)}</td>
              </tr>
            ))}
            {l.loads.length > 1 && (
              <tr className="border-t border-hair">
                <td className="py-0.5">{w.load}</td>
                <td className="text-right whitespace-nowrap">{figure(l.load, l.unit, false)}</td>
              </tr>
            )}
            <tr className="border-t border-ink align-top">
              <td className="py-0.5 pr-3">
                {w.limit}, {senses[l.sense]}
                <span className="block text-xs text-muted">{l.limitSum}</span>
              </td>
              <td className="text-right whitespace-nowrap">{bounds(l.sure, l.possible, l.unit)}</td>
            </tr>
          </tbody>
        </table>
      )}
      {l.facts.length > 0 && (
        <>
          <h4 className="mt-2 text-xs text-muted">{w.facts}</h4>
          <ul className="text-sm">
            {l.facts.map((f, i) => (
              <FactLine key={i} fact={f} hold={hold} />
            ))}
          </ul>
        </>
      )}
      {l.dependsOn.length > 0 && (
        <p className="mt-1 text-sm text-untested">
          {w.depends}: {l.dependsOn.map((d) => d.name).join(', ')}
        </p>
      )}
      <p className="mt-1 text-xs text-muted">
        {w.rule}: {l.source.name} [{words.from[l.source.kind] ?? l.source.kind}]
      </p>
      {l.caution && (
        <p className="mt-1 border-l-4 border-taut pl-2 text-sm">
          <b>{w.caution}:</b> {l.caution}
        </p>
      )}
    </section>
  )
}

/** One fact with its bounds and its source; a number can be changed in place. */
function FactLine({ fact: f, hold }: { fact: Limit['facts'][number]; hold?: (h: Held) => void }) {
  const [text, setText] = useState<string>()
  const changeable = hold && f.path && !f.word && !f.options?.length && !f.path.endsWith('measuredMbps')
  const value = Number(text?.replace(',', '.'))
  return (
    <li className="flex flex-wrap items-baseline justify-between gap-x-3 border-b border-hair py-0.5">
      <span>{f.name}</span>
      <span className="text-right">
        {f.word ? `${f.word} · ` : ''}
        {f.unit || f.low || f.high ? figure(f, f.unit, f.from === 'estimate') : ''}{' '}
        <span className="text-xs text-muted">
          {words.from[f.from] ?? f.from}
          {f.at ? ` ${f.at.slice(0, 10)}` : ''}
        </span>
        {changeable && text === undefined && (
          <button
            className="quiet ml-2 text-xs"
            aria-label={`${w.edit}: ${f.name}`}
            onClick={() => setText(String(f.value))}
          >
            {w.edit}
          </button>
        )}
      </span>
      {text !== undefined && (
        <form
          className="flex w-full items-center justify-end gap-2 py-1"
          onSubmit={(e) => {
            e.preventDefault()
            if (Number.isFinite(value))
              hold?.({
                edits: [{ do: 'fact', path: f.path, fact: { value, from: 'given' } }],
                what: `${f.name}: ${text} ${f.unit}`,
              })
            setText(undefined)
          }}
        >
          <input
            className="field w-24 text-right"
            aria-label={f.name}
            autoFocus
            inputMode="decimal"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          {f.unit}
          <button className="act text-xs" disabled={!Number.isFinite(value)}>
            {w.save}
          </button>
        </form>
      )}
    </li>
  )
}

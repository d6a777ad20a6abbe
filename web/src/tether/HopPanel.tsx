import { useQuery } from '@tanstack/react-query'
import { Dialog } from 'radix-ui'
import type { Failure, Feed, Hop, Limit, Move, Rig, Verdict } from '../api/client'
import { keys } from '../api/keys'
import { words } from '../words'
import { LeadWork, Thing } from '../bench/Thing'
import { AgreementOf, pictureLead } from './Agreement'
import { Fix } from './Findings'
import { type HopAt, plugOf } from './hops'
import { LimitCard } from './LimitCard'
import type { Change } from '../parts/change'
import { Problems } from '../parts/Frame'
import { Safe } from '../parts/Safe'
import { Ways } from './Ways'

const w = words.hop

type Props = {
  at: HopAt
  verdict: Verdict
  rig: Rig
  close: () => void
  movesOf: (of: string) => Promise<Move[]>
  revision: number
  hold?: (h: Change) => void
  held?: Change
  /** Holds one act on top of what is held. */
  add?: (c: Change) => void
}

/** One hop opened: the sum with numbers and units, where the rule comes from, how sure each fact is, what would fix it. */
export function HopPanel(props: Props) {
  const feed = props.verdict.feeds.find((f) => f.id === props.at.feed)
  const hop = feed?.hops[props.at.index]
  if (!feed || !hop) return null
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
          <Safe what={words.broke.hop} again={[props.at, props.revision]}>
            <Inside {...props} feed={feed} hop={hop} />
          </Safe>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}

function Inside({ feed, hop, ...props }: Props & { feed: Feed; hop: Hop }) {
  const targets = [
    ...new Set([hop.ref.split('.')[0]!, plugOf(hop)].filter((t): t is string => !!t && hop.kind !== 'rig')),
  ]
  const moves = useQuery({
    queryKey: keys.panel(props.revision, targets),
    queryFn: async () => (await Promise.all(targets.map(props.movesOf))).flat(),
    enabled: targets.length > 0,
  })
  const lead = pictureLead(feed, props.at.index)
  const limits = hop.limits
    .map((id) => props.verdict.limits.find((l) => l.id === id))
    .filter((l): l is Limit => !!l)
  const item = hop.kind === 'lead' ? undefined : props.rig.items.find((i) => i.id === hop.ref.split('.')[0])
  const leadAt = hop.kind === 'lead' ? hop.ref : hop.lead
  const kinds = [...new Set(moves.data?.map((m) => m.kind))]
  return (
    <>
      {limits.length === 0 && <p className="mt-4 text-muted">{w.none}</p>}
      {limits.map((l) => (
        <LimitCard key={l.id} limit={l} hold={props.hold} />
      ))}
      {hop.stage === 'camera' && props.rig.items.find((i) => i.id === hop.ref)?.gear.kind !== 'computer' && (
        <Ways rig={props.rig} item={hop.ref} label={hop.label} hold={props.add ?? props.hold} />
      )}
      {lead && <AgreementOf rig={props.rig} lead={lead} revision={props.revision} hold={props.hold} />}
      {props.add && item && (
        <Thing key={item.id} rig={props.rig} item={item} add={props.add} gone={props.close} />
      )}
      {props.add && leadAt && <LeadWork key={leadAt} rig={props.rig} lead={leadAt} add={props.add} />}
      {props.hold && (
        <section className="mt-6">
          <h3 className="border-b border-ink pb-1 font-semibold">{w.moves}</h3>
          {moves.error && <Problems error={moves.error as Failure} />}
          {moves.data?.length === 0 && <p className="mt-2 text-sm text-muted">{w.noMoves}</p>}
          {kinds.map((k) => (
            <div key={k} className="mt-3">
              <h4 className="text-sm text-muted">{w.kinds[k] ?? k}</h4>
              {moves
                .data!.filter((m) => m.kind === k)
                .map((m) => (
                  <div key={m.id} className="border-b border-hair py-1">
                    <Fix move={m} hold={props.hold!} />
                    {m.judged && m.judged.heals.length + m.judged.strains.length > 0 && (
                      <p className="text-xs text-muted">{m.judged.words}</p>
                    )}
                  </div>
                ))}
            </div>
          ))}
        </section>
      )}
    </>
  )
}

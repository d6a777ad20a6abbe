import { useState } from 'react'
import type { Act, Edit, Item, Rig } from '../api/client'
import type { Change } from '../parts/change'
import { Text } from '../parts/Field'
import { Problems } from '../parts/Frame'
import { words } from '../words'
import { LeadForm } from './LeadForm'
import { Picker } from './Picker'
import { PutIn } from './PutIn'
import { socketsOf } from './sockets'
import { SocketList } from './SocketList'
import { useAct } from './useAct'

const w = words.bench

type Choosing = 'replace' | 'same' | undefined

/** One thing of the rig worked on: what it is called, what stands in its place, its sockets, its power, its sound. */
export function Thing({
  rig,
  item,
  add,
  gone,
}: {
  rig: Rig
  item: Item
  add: (c: Change) => void
  /** It was taken out. */
  gone: () => void
}) {
  const [choosing, setChoosing] = useState<Choosing>()
  const act = useAct(rig, add)
  const one = (edit: Edit, what: string) => add({ edits: [edit], what })
  const go = (a: Act) => {
    setChoosing(undefined)
    act.do(a)
  }
  const out = (whole: boolean) => {
    setChoosing(undefined)
    act.do({ do: 'out', at: item.id, ...(whole && { whole }) }, { onSuccess: gone })
  }
  const sockets = socketsOf(rig, item)
  const givers = rig.items.filter((i) => i.id !== item.id && gives.has(i.gear.kind))
  return (
    <section className="mt-6" data-testid="thing" data-item={item.id}>
      <h3 className="border-b border-ink pb-1 font-semibold">{w.change}</h3>
      <div className="mt-2 flex flex-wrap items-baseline gap-x-3 gap-y-1 text-sm">
        <span className="text-muted">{w.called}</span>
        <Text
          name={w.called}
          width="w-48"
          value={item.label}
          keep={(name) => name && one({ do: 'label', item: item.id, name }, w.calls(item.label, name))}
        />
      </div>
      <p className="mt-1 text-sm text-muted">
        {w.kind(item.gear.kind)} · {item.gear.name}
        {item.owned === false && ` · ${w.toGet}`}
      </p>
      <div className="mt-2 flex flex-wrap gap-2 text-sm">
        <button className="act" onClick={() => setChoosing('replace')}>
          {w.replace}
        </button>
        <button className="act" onClick={() => setChoosing('same')}>
          {w.same}
        </button>
        <button className="act" disabled={act.busy} onClick={() => go({ do: 'again', at: item.id })}>
          {w.again}
        </button>
        <button className="act" disabled={act.busy} onClick={() => out(false)}>
          {w.out}
        </button>
        <button className="act" disabled={act.busy} onClick={() => out(true)}>
          {w.outWhole}
        </button>
      </div>
      {act.error && (
        <div className="mt-2">
          <Problems error={act.error} />
        </div>
      )}
      {choosing && (
        <div className="mt-3">
          <Picker
            key={choosing}
            rig={rig}
            act={{ do: choosing, at: item.id }}
            title={choosing === 'replace' ? w.replaceTitle(item.label) : w.sameTitle(item.label)}
            pick={go}
            close={() => setChoosing(undefined)}
            busy={act.busy}
          />
        </div>
      )}
      <SocketList rig={rig} item={item} sockets={sockets} add={add} />
      {givers.length > 0 && (
        <label className="mt-3 flex flex-wrap items-baseline gap-x-3 text-sm">
          <span className="text-muted">{w.power}</span>
          <select
            className="field max-w-full"
            value={item.poweredBy ?? ''}
            onChange={(e) =>
              one(
                { do: 'powered-by', item: item.id, word: e.target.value },
                w.powers(item.label, givers.find((g) => g.id === e.target.value)?.label),
              )
            }
          >
            <option value="">{w.noPower}</option>
            {givers.map((g) => (
              <option key={g.id} value={g.id}>
                {g.label}
              </option>
            ))}
          </select>
        </label>
      )}
      {item.gear.sound?.gives && <SoundInto rig={rig} item={item} go={go} />}
    </section>
  )
}

const gives = new Set(['strip', 'ups', 'supply', 'power-bank', 'hub', 'dock', 'computer'])
const listens = new Set(['audio-interface', 'mixer'])

/** Where the sound of a thing goes in. */
function SoundInto({ rig, item, go }: { rig: Rig; item: Item; go: (a: Act) => void }) {
  const into = rig.items.filter(
    (i) =>
      i.id !== item.id &&
      (listens.has(i.gear.kind) ||
        !!i.gear.sound?.takes ||
        (i.gear.kind === 'computer' && i.role !== 'source')),
  )
  const way = rig.sound?.paths.find((p) => p.from === item.id)
  const now =
    way && (way.via?.[0] ?? rig.items.find((i) => i.gear.kind === 'computer' && i.role !== 'source')?.id)
  if (!into.length) return null
  return (
    <label className="mt-2 flex flex-wrap items-baseline gap-x-3 text-sm">
      <span className="text-muted">{w.sound}</span>
      <select
        className="field max-w-full"
        value={now ?? ''}
        onChange={(e) => e.target.value && go({ do: 'connect', at: item.id, to: e.target.value })}
      >
        <option value="">{w.noSound}</option>
        {into.map((i) => (
          <option key={i.id} value={i.id}>
            {i.label}
          </option>
        ))}
      </select>
    </label>
  )
}

/** A lead worked on: what it is, how it lies, and what may be put into it. */
export function LeadWork({ rig, lead, add }: { rig: Rig; lead: string; add: (c: Change) => void }) {
  const [between, setBetween] = useState(false)
  const l = rig.leads.find((x) => x.id === lead)
  if (!l) return null
  return (
    <section className="mt-6" data-testid="lead-work" data-lead={lead}>
      <h3 className="border-b border-ink pb-1 font-semibold">{w.lead}</h3>
      <LeadForm rig={rig} lead={l} add={add} />
      <div className="mt-2 flex flex-wrap gap-2 text-sm">
        <button className="act" onClick={() => setBetween(true)}>
          {w.between}
        </button>
        <button className="act" onClick={() => add({ edits: [{ do: 'unplug', lead }], what: w.unplugs })}>
          {w.takeLead}
        </button>
      </div>
      <PutIn
        rig={rig}
        add={add}
        act={{ do: 'between', at: lead }}
        title={w.betweenTitle}
        open={between}
        close={() => setBetween(false)}
      />
    </section>
  )
}

import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Link } from 'react-router'
import { api, type Entry, Failure, type Gear, type Shelved } from '../api/client'
import { keys } from '../api/keys'
import { Choice, Num, Price, Row, Text, Tick } from '../parts/Field'
import { money } from '../parts/money'
import { Problems } from '../parts/Frame'
import { FactField } from './FactField'
import { Delivered } from './Delivered'
import { Readings } from './Readings'
import { Sockets } from './Sockets'
import { hears, SoundSheet } from './SoundSheet'
import { words } from '../words'
import { Settings } from './Settings'
import { Earlier } from './Earlier'
import { Whole } from './Whole'

const w = words.shelf
const pairs = <T extends string>(o: Record<T, string>) => Object.entries(o) as [T, string][]
const notSaid = ['', w.notSaid] as const

/** One spec sheet, changed in place; every change is a new state of the entry. */
export function Sheet({
  shelved,
  copy,
  remove,
  socket,
  choose,
}: {
  shelved: Shelved
  copy: () => void
  remove: () => void
  socket?: string
  choose: (port: string | undefined) => void
}) {
  const queries = useQueryClient()
  const { entry: e, revision } = shelved
  const g = e.gear
  const save = useMutation({
    mutationFn: (x: { entry: Entry; what: string }) => api.saveOnShelf(x.entry, revision, x.what),
    retry: (_, err) => err instanceof Failure && err.away,
    retryDelay: 1500,
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.shelf }),
    onError: (err) => {
      if (err instanceof Failure && err.status === 409)
        void queries.invalidateQueries({ queryKey: keys.shelf })
    },
  })
  const back = useMutation({
    mutationFn: (to: number) => api.backToSheet(e.id, revision, to),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.shelf }),
  })
  const put = (part: Partial<Entry>, what: string) => save.mutate({ entry: { ...e, ...part }, what })
  const set = (part: Partial<Gear>, what: string) => put({ gear: { ...g, ...part } }, what)
  const shoots = ['camera', 'phone', 'webcam', 'console', 'player', 'computer'].includes(g.kind)
  const captures = ['capture', 'switcher', 'card'].includes(g.kind)
  return (
    <article data-testid="sheet">
      <div className="flex flex-wrap items-start justify-between gap-4">
        <div className="min-w-0 flex-1">
          <Text
            name={w.name}
            value={g.name}
            width="w-full text-xl font-semibold"
            keep={(v) => v && set({ name: v }, `${w.name}: ${v}`)}
          />
          <p className="mt-1 text-xs text-muted">
            {w.state(revision)} · {shelved.what}
          </p>
        </div>
        <div className="flex gap-4 text-sm">
          <Earlier entry={e.id} now={revision} what={shelved.what} back={back.mutate} />
          <button className="quiet" onClick={copy}>
            {w.duplicate}
          </button>
          <button className="quiet" onClick={remove}>
            {w.remove}
          </button>
        </div>
      </div>
      {back.error && <Problems error={back.error as Failure} />}
      {save.error && (
        <div className="mt-3 border-l-4 border-snapped pl-4">
          <Problems error={save.error as Failure} />
        </div>
      )}
      {save.isPending && save.failureCount > 0 && (
        <p role="status" className="mt-2 text-sm text-muted">
          {words.board.waiting}
        </p>
      )}
      <Sockets gear={g} set={set} chosen={socket} choose={choose} />
      <div className="readable mt-4 grid gap-x-10 gap-y-6 xl:grid-cols-2">
        <div className="min-w-0 space-y-6">
          <Group title={w.what}>
            <Row label={w.kind}>
              <Choice
                name={w.kind}
                value={g.kind as string}
                options={pairs(w.kinds)}
                keep={(v) => set({ kind: v as Gear['kind'] }, `${w.kind}: ${v}`)}
              />
            </Row>
            <Row label={w.owned}>
              <Tick
                label={w.mine}
                value={e.owned}
                keep={(v) => put({ owned: v }, v ? w.nowMine : w.notMine)}
              />
              <Num
                name={w.count}
                value={e.count}
                width="w-16"
                unit={w.pieces}
                keep={(v) => put({ count: v }, `${w.count}: ${v ?? 1}`)}
              />
            </Row>
            <Row label={w.price}>
              <Price
                name={w.price}
                value={e.price}
                currency="EUR"
                keep={(m) => put({ price: m }, `${w.price}: ${m ? money(m) : w.notSaid}`)}
              />
            </Row>
            {shoots && (
              <Row label={w.clean}>
                <Choice
                  name={w.clean}
                  value={g.clean ?? 'unknown'}
                  options={pairs(w.cleans)}
                  keep={(v) => set({ clean: v }, `${w.clean}: ${w.cleans[v]}`)}
                />
              </Row>
            )}
            {shoots && (
              <Row label={w.protected}>
                <Choice
                  name={w.protected}
                  value={g.protected ?? ''}
                  options={[notSaid, ...pairs(w.protections)]}
                  keep={(v) => set({ protected: v || undefined }, `${w.protected}: ${v || w.notSaid}`)}
                />
              </Row>
            )}
            {captures && (
              <Row label={w.oddSizes}>
                <Choice
                  name={w.oddSizes}
                  value={g.oddSizes ?? 'unknown'}
                  options={pairs(w.hows)}
                  keep={(v) => set({ oddSizes: v }, `${w.oddSizes}: ${w.hows[v]}`)}
                />
              </Row>
            )}
            {g.kind === 'switcher' && (
              <Row label={w.overview}>
                <Choice
                  name={w.overview}
                  value={g.overview ?? 'unknown'}
                  options={pairs(w.yesNo)}
                  keep={(v) => set({ overview: v }, `${w.overview}: ${w.yesNo[v]}`)}
                />
              </Row>
            )}
            <Row label={w.driver}>
              <Choice
                name={w.driver}
                value={g.driver ?? ''}
                options={[notSaid, ...pairs(w.drivers)]}
                keep={(v) => set({ driver: v || undefined }, `${w.driver}: ${v || w.notSaid}`)}
              />
            </Row>
            <Row label={w.listedAs}>
              <Text
                name={w.listedAs}
                value={g.listedAs ?? ''}
                width="w-56"
                keep={(v) => set({ listedAs: v || undefined }, `${w.listedAs}: ${v}`)}
              />
              <Tick
                label={w.opensSmall}
                value={!!g.opensSmall}
                keep={(v) => set({ opensSmall: v || undefined }, w.opensSmall)}
              />
              <Tick
                label={w.shares}
                value={!!g.shares}
                keep={(v) => set({ shares: v || undefined }, w.shares)}
              />
            </Row>
          </Group>
          <Group title={w.power}>
            <FactField
              name={w.draw}
              field="items/ID/power/drawW"
              fact={g.power?.drawW}
              keep={(f, what) => set({ power: { ...g.power, drawW: f } }, what)}
            />
            {g.power?.battery && (
              <>
                <FactField
                  name={w.mAh}
                  field="items/ID/power/battery/mAh"
                  fact={g.power.battery.mAh}
                  keep={(f, what) =>
                    f !== undefined &&
                    set({ power: { ...g.power, battery: { ...g.power!.battery!, mAh: f } } }, what)
                  }
                />
                <FactField
                  name={w.volts}
                  field="items/ID/power/battery/volts"
                  fact={g.power.battery.volts}
                  keep={(f, what) =>
                    f !== undefined &&
                    set({ power: { ...g.power, battery: { ...g.power!.battery!, volts: f } } }, what)
                  }
                />
              </>
            )}
            <Row label={w.mains}>
              <Choice
                name={w.mains}
                value={g.power?.mains ?? 'unknown'}
                options={pairs(w.mainsWays)}
                keep={(v) => set({ power: { ...g.power, mains: v } }, `${w.mains}: ${w.mainsWays[v]}`)}
              />
            </Row>
            {g.kind === 'hub' && (
              <Row label={w.selfPowered}>
                <Choice
                  name={w.selfPowered}
                  value={g.power?.selfPowered ?? 'unknown'}
                  options={pairs(w.yesNo)}
                  keep={(v) =>
                    set({ power: { ...g.power, selfPowered: v } }, `${w.selfPowered}: ${w.yesNo[v]}`)
                  }
                />
              </Row>
            )}
            {['camera', 'phone'].includes(g.kind) && (
              <Row label={w.byUSB}>
                <Choice
                  name={w.byUSB}
                  value={g.power?.usb ?? 'unknown'}
                  options={pairs(w.usbWays)}
                  keep={(v) => set({ power: { ...g.power, usb: v } }, `${w.byUSB}: ${w.usbWays[v]}`)}
                />
              </Row>
            )}
            {gives(g.kind).map((field) => (
              <FactField
                key={field}
                name={w.gives[field]}
                field={`items/ID/power/${field}`}
                fact={g.power?.[field]}
                keep={(f, what) => set({ power: { ...g.power, [field]: f } }, what)}
              />
            ))}
            {['strip', 'ups'].includes(g.kind) && (
              <p className="mt-2 border-l-4 border-taut pl-2 text-sm">{w.mainsCare}</p>
            )}
            {g.power?.battery && <p className="mt-2 border-l-4 border-taut pl-2 text-sm">{w.lithium}</p>}
          </Group>
          {shoots && g.kind !== 'computer' && (
            <Group title={w.habits}>
              <FactField
                name={w.recordLimit}
                field="items/ID/recordLimitMinutes"
                fact={g.recordLimitMinutes}
                keep={(f, what) => set({ recordLimitMinutes: f }, what)}
              />
              <Row label={w.standby}>
                <Choice
                  name={w.standby}
                  value={g.standby?.does ?? ''}
                  options={[notSaid, ...pairs(w.standbys)]}
                  keep={(v) =>
                    set(
                      { standby: v ? { ...g.standby, does: v } : undefined },
                      `${w.standby}: ${v || w.notSaid}`,
                    )
                  }
                />
              </Row>
              <Settings g={g} set={set} />
            </Group>
          )}
          {hears(g.kind) && (
            <Group title={w.soundSheet.title}>
              <SoundSheet g={g} set={set} />
            </Group>
          )}
          <Group title={w.notes}>
            <Text
              long
              name={w.notes}
              value={g.notes ?? ''}
              keep={(v) => set({ notes: v || undefined }, w.notes)}
            />
          </Group>
        </div>
        <div className="min-w-0 space-y-6">
          {(!!g.delivers?.length || toComputer(g)) && (
            <Group title={w.delivers}>
              <Delivered delivers={g.delivers ?? []} keep={(delivers, what) => set({ delivers }, what)} />
            </Group>
          )}
          <Group title={w.used}>
            {shelved.uses.length === 0 && <p className="py-2 text-sm text-muted">{w.notUsed}</p>}
            <ul className="text-sm">
              {shelved.uses.map((u) => (
                <li key={`${u.rig}/${u.item}`} className="border-b border-hair py-1">
                  <Link className="quiet" to={`/rigs/${u.rig}`}>
                    {u.name}
                  </Link>
                  : {u.label}{' '}
                  <span className="text-muted">
                    {u.frozen ? w.frozen : u.revision < revision ? w.older(u.revision) : w.current}
                  </span>
                </li>
              ))}
            </ul>
          </Group>
          <Readings gear={g} keep={(gear, what) => put({ gear }, what)} />
          <Whole entry={e} keep={(entry) => save.mutate({ entry, what: w.asText })} error={!!save.error} />
        </div>
      </div>
    </article>
  )
}

function Group({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <section>
      <h2 className="border-b border-ink pb-1 font-semibold">{title}</h2>
      {children}
    </section>
  )
}

/** Whether a thing may hand pictures to a computer. */
const toComputer = (g: Gear) =>
  ['capture', 'card', 'switcher', 'webcam', 'camera', 'phone', 'converter'].includes(g.kind) &&
  !!g.ports?.some((p) => p.direction === 'upstream')

type Giving = keyof typeof w.gives

/** The figures of what a thing gives to others, by its kind. */
function gives(kind: string): Giving[] {
  const of: Record<string, Giving[]> = {
    hub: ['supplyW', 'supplyVolts'],
    dock: ['supplyW', 'supplyVolts', 'chargesW'],
    supply: ['supplyW'],
    'power-bank': ['supplyW'],
    strip: ['ratedA'],
    ups: ['limitW', 'limitVA', 'efficiency'],
  }
  return of[kind] ?? []
}

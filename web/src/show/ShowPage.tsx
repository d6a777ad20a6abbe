import { useQuery } from '@tanstack/react-query'
import { api, type Board, type Edit, type Feed, type Show } from '../api/client'
import { keys } from '../api/keys'
import { Choice, Num, Price, Row, Text, Tick } from '../parts/Field'
import { money } from '../parts/money'
import { RigPage } from '../parts/RigPage'
import { Shape } from '../parts/Shape'
import { words } from '../words'
import { Layouts } from './Layouts'
import { Before } from './Before'
import { IngestFile, Mine } from './IngestFile'

const w = words.show

const sizes = ['1280×720', '1920×1080', '2560×1440', '3840×2160', '1080×1920'].map((s) => [s, s] as const)
const rates = [
  ['24000/1001', '23.976'],
  ['24', '24'],
  ['25', '25'],
  ['30000/1001', '29.97'],
  ['30', '30'],
  ['50', '50'],
  ['60000/1001', '59.94'],
  ['60', '60'],
] as const
const pairs = <T extends string>(o: Record<T, string>) => Object.entries(o) as [T, string][]
const sizeOf = (p: { width: number; height: number }) => `${p.width}×${p.height}`
const sized = (s: string) => {
  const [width, height] = s.split('×').map(Number)
  return { width: width!, height: height! }
}

/** What must go to air: the show a rig is judged against. */
export function ShowPage() {
  return (
    <RigPage title={w.title} line={(now) => <Line now={now} />}>
      {(now, save) => <ShowForm now={now} save={save.mutate} />}
    </RigPage>
  )
}

function Line({ now }: { now: Board }) {
  const { programme: p, minutes, angles } = now.rig.show
  return (
    <>
      <b>{w.settled}</b> {sizeOf(p)} {w.at} {rateName(p.rate)}, {minutes} min, {w.angles(angles ?? 0)}.{' '}
      {now.gaps.length > 0 ? (
        <>
          <b>{w.open}</b> {now.gaps.slice(1).join(', ') || w.nothing}. <b>{w.next}</b> {now.gaps[0]}.
        </>
      ) : (
        w.allSaid
      )}
    </>
  )
}

function ShowForm({ now, save }: { now: Board; save: (e: { edits: Edit[]; what: string }) => void }) {
  const show = now.rig.show
  const put = (part: Partial<Show>, what: string) =>
    save({ edits: [{ do: 'show', show: { ...show, ...part } }], what })
  const p = show.programme
  return (
    <fieldset disabled={now.frozen} className="grid gap-x-12 gap-y-8 lg:grid-cols-2">
      <div className="space-y-8">
        <Group title={w.picture}>
          <Row label={w.programme} hint={w.programmeHint}>
            <Choice
              name={w.size}
              value={sizeOf(p)}
              options={sizes}
              keep={(v) => put({ programme: { ...p, ...sized(v) } }, `${w.programme}: ${v}`)}
            />
            <Choice
              name={w.rate}
              value={p.rate}
              options={rates}
              keep={(v) => put({ programme: { ...p, rate: v } }, `${w.programme}: ${rateName(v)}`)}
            />
            {w.frames}
          </Row>
          <Row label={w.motion}>
            <Choice
              name={w.motion}
              value={show.motion ?? 'talk'}
              options={pairs(w.motions)}
              keep={(v) => put({ motion: v }, `${w.motion}: ${w.motions[v]}`)}
            />
          </Row>
          <Row label={w.mains}>
            <Choice
              name={w.mains}
              value={String(show.mainsHz ?? '')}
              options={[
                ['50', '50 Hz'],
                ['60', '60 Hz'],
              ]}
              keep={(v) => put({ mainsHz: Number(v) as 50 | 60 }, `${w.mains}: ${v} Hz`)}
            />
          </Row>
        </Group>
        <Group title={w.time}>
          <Row label={w.startsAt}>
            <input
              type="time"
              className="field"
              aria-label={w.startsAt}
              value={show.startsAt ?? ''}
              onChange={(e) =>
                put({ startsAt: e.target.value || undefined }, `${w.startsAt} ${e.target.value || w.notSaid}`)
              }
            />
          </Row>
          {(['setupMinutes', 'rehearsalMinutes', 'minutes'] as const).map((f) => (
            <Row key={f} label={w.times[f]}>
              <Num
                name={w.times[f]}
                unit="min"
                value={show[f]}
                keep={(v) =>
                  put({ [f]: v ?? (f === 'minutes' ? 0 : undefined) }, `${w.times[f]}: ${v ?? 0} min`)
                }
              />
            </Row>
          ))}
        </Group>
        <Group title={w.anglesTitle}>
          <Row label={w.anglesHow}>
            <Num
              name={w.anglesHow}
              value={show.angles}
              keep={(v) => put({ angles: v }, `${w.anglesHow}: ${v ?? ''}`)}
            />
          </Row>
          <Row label={w.selectable} hint={w.selectableHint}>
            <Tick
              label={w.selectableYes}
              value={!!show.anglesSelectable}
              keep={(v) => put({ anglesSelectable: v }, `${w.selectable}: ${v ? w.selectableYes : w.no}`)}
            />
          </Row>
          <Row label={w.switching}>
            <Choice
              name={w.switching}
              value={show.switching ?? ''}
              options={[['', w.notSaid], ...pairs(w.switchers)]}
              keep={(v) => put({ switching: v || undefined }, `${w.switching}: ${v}`)}
            />
          </Row>
        </Group>
        <Group title={w.layouts.title}>
          <Layouts show={show} now={now} put={put} />
        </Group>
        <Group title={w.program}>
          <Row label={w.programKind} hint={w.programHints[show.program.kind]}>
            <Choice
              name={w.programKind}
              value={show.program.kind}
              options={pairs(w.programs)}
              keep={(v) => put({ program: { ...show.program, kind: v } }, `${w.program}: ${w.programs[v]}`)}
            />
          </Row>
          <Row label={w.programName}>
            <Text
              name={w.programName}
              value={show.program.name ?? ''}
              width="w-56"
              keep={(v) =>
                put({ program: { ...show.program, name: v || undefined } }, `${w.programName}: ${v}`)
              }
            />
          </Row>
          <Also show={show} items={now.rig.items} put={put} />
          <Row label={w.besides} hint={w.besidesHint}>
            {pairs(w.besidesWhat).map(([what, label]) => (
              <Tick
                key={what}
                label={label}
                value={!!show.besides?.includes(what)}
                keep={(v) =>
                  put(
                    { besides: [...(show.besides ?? []).filter((b) => b !== what), ...(v ? [what] : [])] },
                    `${label}: ${v ? w.yes : w.no}`,
                  )
                }
              />
            ))}
          </Row>
        </Group>
        <Group title={w.calls}>
          <Calls now={now} show={show} put={put} save={save} />
        </Group>
        <Group title={w.money}>
          <Row label={w.budget}>
            <Price
              name={w.budget}
              value={show.budget}
              currency={show.budget?.currency ?? 'EUR'}
              keep={(m) => put({ budget: m }, `${w.budget}: ${m ? money(m) : w.notSaid}`)}
            />
          </Row>
          <Row label={w.sound}>
            <Choice
              name={w.sound}
              value={show.soundFrom ?? ''}
              options={[['', w.notSaid], ...pairs(w.sounds)]}
              keep={(v) => put({ soundFrom: v || undefined }, `${w.sound}: ${v}`)}
            />
          </Row>
        </Group>
      </div>
      <div className="space-y-8">
        <Group title={w.sources}>
          {now.verdict.feeds.map((f) => (
            <Source
              key={f.id}
              feed={f}
              shutter={now.rig.items.find((i) => i.id === f.source)?.set?.shutter ?? ''}
              keep={(v) =>
                save({
                  edits: [{ do: 'word', path: `items/${f.source}/set/shutter`, word: v }],
                  what: `${w.shutter} ${f.label}: ${v}`,
                })
              }
              touch={(v) =>
                save({
                  edits: [{ do: 'word', path: `items/${f.source}/set/touched`, word: v ? 'yes' : 'no' }],
                  what: `${f.label}: ${v ? w.touched : w.leftAlone}`,
                })
              }
            />
          ))}
        </Group>
        <Destinations show={show} put={put} />
        <Recordings show={show} items={now.rig.items} put={put} />
        <Group title={w.before.title}>
          <Before now={now} save={save} />
        </Group>
      </div>
    </fieldset>
  )
}

function rateName(rate: string) {
  return rates.find(([v]) => v === rate)?.[1] ?? rate
}

function Group({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <section>
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{title}</h2>
      {children}
    </section>
  )
}

type SourceProps = {
  feed: Feed
  shutter: string
  keep: (v: string) => void
  touch: (v: boolean) => void
}

/** What one source shows on the programme, its shutter in this light, and whether it is kept awake. */
function Source({ feed: f, shutter, keep, touch }: SourceProps) {
  return (
    <div className="flex gap-4 border-b border-hair py-2" data-source={f.source}>
      <svg width="72" height="44" viewBox="0 0 72 44" aria-hidden="true" className="shrink-0">
        {f.shape && <Shape shape={f.shape} {...inside(f.shape.programme)} />}
      </svg>
      <div className="min-w-0 flex-1">
        <p className="font-semibold">{f.label}</p>
        <p className="text-sm text-muted">{f.shape ? f.shape.words || words.board.wholeFrame : w.notThere}</p>
        {f.light && (
          <div className="mt-1 flex flex-wrap items-baseline gap-x-3 text-sm">
            <span>
              {f.light.rate} {w.inLight(f.light.mainsHz)}: {f.light.words}
            </span>
            <span className="flex items-baseline gap-2">
              <span className="text-muted">{w.shutter}</span>
              <Text
                name={`${w.shutter} ${f.label}`}
                value={shutter}
                width="w-20"
                placeholder={f.light.shutter}
                keep={(v) => v && keep(v)}
              />
            </span>
          </div>
        )}
        {f.sleep && (
          <div className="mt-1 flex flex-wrap items-baseline gap-x-3 text-sm">
            <span>{f.sleep.words}</span>
            <Tick label={w.touched} value={f.sleep.touched} keep={touch} />
          </div>
        )}
      </div>
    </div>
  )
}

function inside([pw, ph]: number[]) {
  const scale = Math.min(72 / pw!, 44 / ph!)
  return { x: 0, y: 0, width: pw! * scale, height: ph! * scale }
}

type Put = (part: Partial<Show>, what: string) => void

/** Programs beside the main one, and whose pictures they take. */
function Also({ show, items, put }: { show: Show; items: Board['rig']['items']; put: Put }) {
  const also = show.also ?? []
  const change = (i: number, part: Partial<(typeof also)[number]>, what: string) =>
    put({ also: also.map((a, k) => (k === i ? { ...a, ...part } : a)) }, what)
  return (
    <>
      {also.map((a, i) => (
        <Row key={i} label={w.also}>
          <Choice
            name={`${w.also} ${i + 1}`}
            value={a.kind}
            options={pairs(w.programs)}
            keep={(v) => change(i, { kind: v }, `${w.also}: ${w.programs[v]}`)}
          />
          <Choice
            name={`${w.alsoTakes} ${i + 1}`}
            value={a.takes[0] ?? ''}
            options={[
              ['', w.noSource],
              ...items.filter((it) => it.gear.kind !== 'drive').map((it) => [it.id, it.label] as const),
            ]}
            keep={(v) => change(i, { takes: v ? [v] : [] }, `${w.alsoTakes}: ${v}`)}
          />
          <button
            className="quiet text-sm"
            onClick={() => put({ also: also.filter((_, k) => k !== i) }, w.alsoNot)}
          >
            {w.remove}
          </button>
        </Row>
      ))}
      <button
        className="quiet mt-2 text-sm"
        onClick={() => put({ also: [...also, { kind: 'call', takes: [] }] }, w.alsoAdd)}
      >
        {w.alsoAdd}
      </button>
    </>
  )
}

type Save = (e: { edits: Edit[]; what: string }) => void

/** People who join by a call: what they send comes down the line and is decoded here, what they see goes up. */
function Calls({ now, show, put, save }: { now: Board; show: Show; put: Put; save: Save }) {
  const all = show.calls ?? []
  const change = (i: number, part: Partial<(typeof all)[number]>, what: string) =>
    put({ calls: all.map((c, k) => (k === i ? { ...c, ...part } : c)) }, what)
  const number = (f: (typeof all)[number]['upKbps']) => (typeof f === 'number' ? f : f?.value)
  const down = now.rig.uplink?.downMbps
  return (
    <>
      {all.length === 0 && <p className="py-2 text-muted">{w.noCall}</p>}
      {all.map((c, i) => (
        <Row key={i} label={w.call}>
          <Text
            name={`${w.call} ${i + 1}`}
            value={c.name ?? ''}
            width="w-40"
            placeholder={w.callName}
            keep={(v) => change(i, { name: v || undefined }, `${w.call}: ${v}`)}
          />
          <Num
            name={`${w.people} ${i + 1}`}
            unit={w.peopleUnit}
            width="w-14"
            value={c.persons}
            keep={(v) => change(i, { persons: v }, `${w.people}: ${v ?? w.notSaid}`)}
          />
          <Num
            name={`${w.up} ${i + 1}`}
            unit={w.upUnit}
            width="w-20"
            value={number(c.upKbps)}
            keep={(v) => change(i, { upKbps: v }, `${w.up}: ${v ?? w.notSaid}`)}
          />
          <Num
            name={`${w.down} ${i + 1}`}
            unit={w.downUnit}
            width="w-20"
            value={number(c.downKbps)}
            keep={(v) => change(i, { downKbps: v }, `${w.down}: ${v ?? w.notSaid}`)}
          />
          <button
            className="quiet text-sm"
            onClick={() => put({ calls: all.filter((_, k) => k !== i) }, w.noMoreCall)}
          >
            {w.remove}
          </button>
        </Row>
      ))}
      {all.length > 0 && (
        <Row label={w.lineDown} hint={w.lineDownHint}>
          <Num
            name={w.lineDown}
            unit="Mb/s"
            value={number(down)}
            keep={(v) =>
              v !== undefined &&
              save({
                edits: [{ do: 'fact', path: 'uplink/downMbps', fact: { value: v, low: v, high: v } }],
                what: `${w.lineDown}: ${v} Mb/s`,
              })
            }
          />
        </Row>
      )}
      <button className="quiet mt-2 text-sm" onClick={() => put({ calls: [...all, {}] }, w.addCall)}>
        {w.addCall}
      </button>
    </>
  )
}

function Destinations({ show, put }: { show: Show; put: Put }) {
  const all = show.destinations
  const known = useQuery({
    queryKey: keys.destinations,
    queryFn: () => api.destinations(),
    staleTime: Infinity,
  })
  type D = (typeof all)[number]
  const change = (i: number, part: Partial<D>, what: string) =>
    put({ destinations: all.map((d, k) => (k === i ? { ...d, ...part } : d)) }, what)
  return (
    <Group title={w.destinations}>
      {all.length === 0 && <p className="py-2 text-muted">{w.noDestination}</p>}
      {all.map((d, i) => {
        const ingest = d.ingest ?? {}
        const takes = (part: Partial<NonNullable<D['ingest']>>, what: string) =>
          change(i, { ingest: { ...ingest, ...part } }, `${d.name}: ${what}`)
        return (
          <div key={i} className="mt-2" data-destination={d.name}>
            <Row label={w.name}>
              <Text
                name={`${w.name} ${i + 1}`}
                value={d.name}
                width="w-56"
                keep={(v) => v && change(i, { name: v }, `${w.name}: ${v}`)}
              />
              {show.program.kind !== 'destination-page' && (
                <Choice
                  name={`${w.transport} ${d.name}`}
                  value={d.transport ?? 'rtmp'}
                  options={pairs(w.transports)}
                  keep={(v) => change(i, { transport: v }, `${d.name}: ${w.transports[v]}`)}
                />
              )}
              <button
                className="quiet text-sm"
                onClick={() => put({ destinations: all.filter((_, k) => k !== i) }, `${w.without} ${d.name}`)}
              >
                {w.remove}
              </button>
            </Row>
            <Row label={w.window} hint={w.windowHint}>
              <Choice
                name={`${w.window} ${d.name}`}
                value={d.window ?? ''}
                options={pairs(w.windows)}
                keep={(v) =>
                  change(
                    i,
                    { window: (v || undefined) as D['window'] },
                    `${d.name}: ${w.window} ${w.windows[v]}`,
                  )
                }
              />
            </Row>
            <Row label={w.backup}>
              <Tick
                label={w.backupYes}
                value={!!d.backup}
                keep={(v) =>
                  change(i, { backup: v || undefined }, `${d.name}: ${w.backup} ${v ? w.yes : w.no}`)
                }
              />
            </Row>
            <Row label={w.sent}>
              <Choice
                name={`${w.size} ${d.name}`}
                value={sizeOf(d.send)}
                options={sizes}
                keep={(v) => change(i, { send: { ...d.send, ...sized(v) } }, `${d.name}: ${v}`)}
              />
              <Choice
                name={`${w.rate} ${d.name}`}
                value={d.send.rate}
                options={rates}
                keep={(v) => change(i, { send: { ...d.send, rate: v } }, `${d.name}: ${rateName(v)}`)}
              />
              <Num
                name={`${w.bitrate} ${d.name}`}
                unit="kb/s"
                value={typeof d.send.videoKbps === 'number' ? d.send.videoKbps : d.send.videoKbps?.value}
                keep={(v) =>
                  change(
                    i,
                    { send: { ...d.send, videoKbps: v } },
                    `${w.bitrate} ${d.name}: ${v ?? w.notSaid}`,
                  )
                }
              />
            </Row>
            <Row label={w.takesAtMost} hint={w.checkedHint}>
              <Choice
                name={`${w.fromKind} ${d.name}`}
                value=""
                options={[
                  ['', w.fromKind],
                  ...(known.data ?? []).map(
                    (k) =>
                      [
                        k.name,
                        [k.name, k.own && w.mine, k.own && k.stale && w.lookAgain]
                          .filter(Boolean)
                          .join(' · '),
                      ] as const,
                  ),
                ]}
                keep={(v) => {
                  const k = known.data?.find((x) => x.name === v)
                  if (k)
                    change(
                      i,
                      { ingest: k.ingest, transport: k.transport as D['transport'] },
                      `${d.name}: ${k.name}`,
                    )
                }}
              />
              <Choice
                name={`${w.maxSize} ${d.name}`}
                value={
                  ingest.maxWidth ? sizeOf({ width: ingest.maxWidth, height: ingest.maxHeight ?? 0 }) : ''
                }
                options={[['', w.notSaid], ...sizes]}
                keep={(v) => {
                  const { width, height } = v ? sized(v) : { width: undefined, height: undefined }
                  takes({ maxWidth: width, maxHeight: height }, `${w.maxSize} ${v || w.notSaid}`)
                }}
              />
              <Num
                name={`${w.maxBitrate} ${d.name}`}
                unit="kb/s"
                value={ingest.maxVideoKbps}
                keep={(v) => takes({ maxVideoKbps: v }, `${w.maxBitrate} ${v ?? w.notSaid}`)}
              />
              <input
                type="date"
                className="field"
                aria-label={`${w.checked} ${d.name}`}
                value={ingest.checkedOn ?? ''}
                onChange={(e) =>
                  takes(
                    { checkedOn: e.target.value || undefined },
                    `${w.checked} ${e.target.value || w.notSaid}`,
                  )
                }
              />
              <IngestFile d={d} keep={(p, what) => change(i, p, what)} />
              <Mine d={d} is={!!known.data?.some((k) => k.own && k.name === d.name)} />
            </Row>
          </div>
        )
      })}
      <button
        className="quiet mt-2 text-sm"
        onClick={() =>
          put(
            {
              destinations: [...all, { name: w.newDestination(all.length + 1), send: { ...show.programme } }],
            },
            w.addDestination,
          )
        }
      >
        {w.addDestination}
      </button>
    </Group>
  )
}

function Recordings({ show, items, put }: { show: Show; items: Board['rig']['items']; put: Put }) {
  const all = show.recordings ?? []
  const change = (i: number, part: Partial<(typeof all)[number]>, what: string) =>
    put({ recordings: all.map((r, k) => (k === i ? { ...r, ...part } : r)) }, what)
  const sources = items.filter((it) =>
    ['camera', 'phone', 'webcam', 'console', 'player'].includes(it.gear.kind),
  )
  return (
    <Group title={w.recordings}>
      {all.length === 0 && <p className="py-2 text-muted">{w.noRecording}</p>}
      {all.map((r, i) => (
        <Row key={i} label={w.recording}>
          <Choice
            name={`${w.what} ${i + 1}`}
            value={r.what}
            options={[['programme', w.programme], ...sources.map((it) => [it.id, it.label] as const)]}
            keep={(v) =>
              change(i, { what: v, inCamera: v !== 'programme' && r.inCamera }, `${w.recording}: ${v}`)
            }
          />
          {r.what !== 'programme' && (
            <Tick
              label={w.inCamera}
              value={!!r.inCamera}
              keep={(v) => change(i, { inCamera: v }, `${w.recording}: ${v ? w.inCamera : w.onComputer}`)}
            />
          )}
          {r.inCamera && (
            <Tick
              label={w.restarts}
              value={!!r.restarts}
              keep={(v) => change(i, { restarts: v }, `${w.recording}: ${v ? w.restarts : w.runsOn}`)}
            />
          )}
          <button
            className="quiet text-sm"
            onClick={() => put({ recordings: all.filter((_, k) => k !== i) }, w.noMore)}
          >
            {w.remove}
          </button>
        </Row>
      ))}
      <button
        className="quiet mt-2 text-sm"
        onClick={() => put({ recordings: [...all, { what: 'programme' }] }, w.addRecording)}
      >
        {w.addRecording}
      </button>
    </Group>
  )
}

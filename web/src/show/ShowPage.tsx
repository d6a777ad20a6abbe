import { type Board, type Edit, type Show } from '../api/client'
import { Choice, Num, Price, Row, Text, Tick } from '../parts/Field'
import { money } from '../parts/money'
import { RigPage } from '../parts/RigPage'
import { words } from '../words'
import { Layouts } from './Layouts'
import { Before } from './Before'
import { pairs, rateName, rates, sized, sizeOf, sizes } from './choices'
import { Group } from './Group'
import { Source } from './Source'
import { Also } from './Also'
import { Calls } from './Calls'
import { Destinations } from './Destinations'
import { Recordings } from './Recordings'

const w = words.show

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

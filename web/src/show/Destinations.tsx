import { useQuery } from '@tanstack/react-query'
import { type Show, api } from '../api/client'
import { keys } from '../api/keys'
import { Row, Text, Choice, Tick, Num } from '../parts/Field'
import { Put, pairs, sizeOf, sizes, sized, rates, rateName } from './choices'
import { Group } from './Group'
import { IngestFile, Mine } from './IngestFile'
import { words } from '../words'

const w = words.show

export function Destinations({ show, put }: { show: Show; put: Put }) {
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

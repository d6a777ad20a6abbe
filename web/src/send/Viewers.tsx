import { Slider } from 'radix-ui'
import type { Board, Edit, Limit, Sending } from '../api/client'
import { Glyph } from '../parts/Rope'
import { StateWord } from '../parts/StateWord'
import { words } from '../words'
import { Region } from './Region'
import type { Hold } from './hold'

const w = words.send

type Destination = Board['rig']['show']['destinations'][number]
type SendOf = Destination['send']

const coders = [
  '',
  'hardware',
  'ultrafast',
  'superfast',
  'veryfast',
  'faster',
  'fast',
  'medium',
  'slow',
] as const

/** What is in a limit's line of loads of one destination: the state, and the judgement. */
function Says({ limit }: { limit?: Limit }) {
  if (!limit) return null
  return (
    <li className="flex gap-2">
      <span className="w-20 shrink-0">
        <StateWord state={limit.state} />
      </span>
      <span className="min-w-0">
        <b>{limit.what}.</b> {limit.says}
      </span>
    </li>
  )
}

/** The first thing: what viewers get, destination by destination. */
export function Viewers({ now, send, hold, free }: { now: Board; send: Sending; hold: Hold; free: boolean }) {
  const all = now.rig.show.destinations
  return (
    <section aria-labelledby="viewers" className="mb-6">
      <h2 id="viewers" className="border-b border-ink pb-1 font-semibold">
        {w.viewers}
      </h2>
      {all.length === 0 && <p className="py-2 text-muted">{w.nowhere}</p>}
      {all.map((d, i) => (
        <One key={d.name} i={i} d={d} send={send} hold={hold} free={free} />
      ))}
      {send.stale.length > 0 && (
        <p className="mt-2 text-sm text-muted">
          {send.stale.map((s) => w.stale(s.destination, s.checkedOn, s.days)).join(' ')}
        </p>
      )}
      <p className="mt-2 text-sm text-muted">{w.delay}</p>
      {send.windows.length > 0 && (
        <p className="mt-1 text-sm text-muted" data-testid="windows">
          {w.windows(send.windows.map((x) => w.window(x.name, x.keeps, x.inset)))}
        </p>
      )}
    </section>
  )
}

function One({
  i,
  d,
  send,
  hold,
  free,
}: {
  i: number
  d: Destination
  send: Sending
  hold: Hold
  free: boolean
}) {
  const out = send.outs.filter((o) => o.kind === 'destination')[i]
  const region = send.regions.find((r) => r.destination === d.name)
  const part = send.sheet.parts.find((p) => p.id === `stream-${i}`)
  const value = (id: string) => part?.lines.find((l) => l.id === id)
  const at = (rule: string) => send.limits.find((l) => l.id === `${rule}:${i}`)
  const spot = region?.spots.find((s) => s.now)
  // What is set now, held changes among it: the sheet was made with them.
  const current: SendOf = send.sends[i] ?? d.send
  const change = (part: Partial<SendOf>, what: string) =>
    hold(`send:${d.name}`, {
      edits: [
        { do: 'send', name: d.name, send: { ...current, videoKbps: region?.nowKbps, ...part } } as Edit,
      ],
      what,
    })
  const most = region ? Math.max(region.capKbps, region.sureKbps, region.nowKbps, spot?.highKbps ?? 0) : 0
  return (
    <article className="border-b border-hair py-3" data-destination={d.name}>
      <div className="grid gap-x-8 gap-y-3 lg:grid-cols-[minmax(0,1fr)_440px]">
        <div className="min-w-0">
          <p className="flex items-center gap-3">
            {out && <Glyph state={out.state} room={out.room} />}
            <b className="min-w-0 break-words">{d.name}</b>
            {d.via && <span className="text-sm text-muted">{w.via(d.via)}</span>}
          </p>
          {region && part && value('bitrate') && (
            <div className="mt-2 grid grid-cols-[7rem_minmax(0,1fr)] items-center gap-x-4 gap-y-2 text-sm max-sm:grid-cols-1">
              <span className="text-muted">{w.sizeAndRate}</span>
              <span className="flex flex-wrap gap-1">
                {region.spots.map((s) => (
                  <button
                    key={s.label}
                    className={`act px-2 py-0.5 text-xs ${s.now ? 'act-main' : ''}`}
                    aria-pressed={s.now}
                    disabled={!free || (!s.takes && !s.now)}
                    title={s.takes ? undefined : w.notTaken(d.name)}
                    onClick={() =>
                      hold(`send:${d.name}`, { edits: s.edits, what: w.sendAt(s.label, d.name) })
                    }
                  >
                    {s.label}
                  </button>
                ))}
              </span>
              <span className="text-muted">{w.bitrate}</span>
              <span className="flex items-center gap-3">
                <Slider.Root
                  className="relative flex h-6 min-w-0 flex-1 touch-none items-center"
                  min={100}
                  max={Math.ceil(most / 500) * 500 || 10000}
                  step={100}
                  value={[region.nowKbps]}
                  disabled={!free}
                  onValueChange={([v]) => change({ videoKbps: v }, w.bitrateTo(v!, d.name))}
                >
                  <Slider.Track className="relative h-[3px] flex-1 bg-hair">
                    <Slider.Range className="absolute h-full bg-[var(--thread)]" />
                  </Slider.Track>
                  <Slider.Thumb
                    className="block h-5 w-5 rounded-full border-2 border-ink bg-sheet"
                    aria-label={`${w.bitrate}, ${d.name}`}
                  />
                </Slider.Root>
                <span className="w-24 text-right tabular-nums" data-testid="kbps">
                  {region.nowKbps} kb/s
                </span>
              </span>
              <span className="text-muted">{w.coder}</span>
              <span className="flex flex-wrap items-center gap-x-4 gap-y-1">
                <select
                  className="field"
                  aria-label={`${w.coder}, ${d.name}`}
                  disabled={!free}
                  value={current.encoder ?? ''}
                  onChange={(e) =>
                    change(
                      { encoder: (e.target.value || undefined) as SendOf['encoder'] },
                      w.codeWith(e.target.value || w.best, d.name),
                    )
                  }
                >
                  {coders.map((c) => (
                    <option key={c} value={c}>
                      {c === ''
                        ? `${w.best}: ${value('preset')?.value ?? ''}`
                        : c === 'hardware'
                          ? w.hardware
                          : c}
                    </option>
                  ))}
                </select>
                <select
                  className="field"
                  aria-label={`${w.range}, ${d.name}`}
                  disabled={!free}
                  value={current.range ?? ''}
                  onChange={(e) =>
                    change(
                      { range: (e.target.value || undefined) as SendOf['range'] },
                      w.rangeTo(e.target.value || 'limited'),
                    )
                  }
                >
                  <option value="">{w.limited}</option>
                  <option value="full">{w.full}</option>
                </select>
              </span>
            </div>
          )}
          {current.range === 'full' && (
            <p className="mt-1 border-l-4 border-taut pl-2 text-sm">{value('range')?.why}</p>
          )}
          {part && !value('bitrate') && <p className="mt-2 text-sm">{part.note}</p>}
          <ul className="mt-2 space-y-0.5 text-sm">
            {[
              'ingest',
              'ingest-bitrate',
              'bits-a-pixel',
              'sent-size',
              'ingest-audio',
              'ingest-least',
              'codec',
              'transport',
            ]
              .map(at)
              .filter(
                (l) => l && (l.state !== 'slack' || l.rule === 'bits-a-pixel' || l.rule === 'ingest-bitrate'),
              )
              .map((l) => (
                <Says key={l!.id} limit={l} />
              ))}
            {i === 0 && <Says limit={send.limits.find((l) => l.id === 'uplink')} />}
            {i === 0 && <Says limit={send.limits.find((l) => l.id === 'downlink')} />}
          </ul>
        </div>
        {region && <Region region={region} hold={free ? hold : undefined} />}
      </div>
    </article>
  )
}

import { type Board, type Edit, type Failure, type SoundPath } from '../api/client'
import { Problems } from '../parts/Frame'
import { RigPage } from '../parts/RigPage'
import { LimitCard } from '../tether/LimitCard'
import { words } from '../words'
import { Sync } from './Sync'
import { Ways } from './Ways'
import { Keep, useSound } from './heard'
import { Delays } from './Delays'
import { Levels } from './Levels'
import { Path } from './Path'
import { AddWay } from './AddWay'
import { Room } from './Room'

const w = words.sound

/** How every voice gets to air: ways, delays, levels. */
export function SoundPage() {
  return (
    <RigPage title={w.title} line={(now) => <Line now={now} />}>
      {(now, save) => <Sound now={now} keep={save.mutate} />}
    </RigPage>
  )
}

function Line({ now }: { now: Board }) {
  const { data } = useSound(now)
  if (!data) return words.board.loading
  if (!data.plan) return w.none
  const bad = data.limits.filter((l) => l.state !== 'slack')
  const worst = bad.find((l) => l.state === 'snapped') ?? bad.find((l) => l.state === 'kinked') ?? bad[0]
  return (
    <>
      <b>{w.settled}</b> {w.holds(data.limits.length - bad.length, data.limits.length)}
      {worst && (
        <>
          {' '}
          <b>{w.next}</b> {worst.what}.
        </>
      )}
    </>
  )
}

function Sound({ now, keep }: { now: Board; keep: Keep }) {
  const { data, error } = useSound(now)
  if (error && !data) return <Problems error={error as Failure} />
  if (!data) return <p role="status">{words.board.loading}</p>
  const free = now.newest && !now.frozen
  const paths = now.rig.sound?.paths ?? []
  const put = (next: SoundPath[], what: string) =>
    keep({ edits: [{ do: 'sound', sound: { ...now.rig.sound, paths: next } } as Edit], what })
  return (
    <div className="space-y-10">
      {data.plan ? (
        <>
          <Ways now={now} sound={data} />
          <div className="grid gap-x-10 gap-y-8 lg:grid-cols-2">
            <Delays now={now} sound={data} keep={free ? keep : undefined} />
            <Sync sound={data} />
          </div>
          <Levels sound={data} />
        </>
      ) : (
        <p>{w.noneHelp}</p>
      )}
      <section>
        <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.ways}</h2>
        {paths.map((p, i) => (
          <Path
            key={p.voice + p.from + i}
            now={now}
            path={p}
            at={i}
            save={keep}
            way={data.plan?.paths[i]}
            free={free}
            keep={(next, what) =>
              put(next ? paths.map((o, k) => (k === i ? next : o)) : paths.filter((_, k) => k !== i), what)
            }
          />
        ))}
        {free && <AddWay now={now} keep={keep} />}
      </section>
      <Room now={now} keep={keep} free={free} />
      {data.limits.length > 0 && (
        <section>
          <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.judged}</h2>
          <ul className="mt-2 space-y-2">
            {data.limits
              .filter((l) => l.state !== 'slack')
              .map((l) => (
                <li key={l.id}>
                  <LimitCard limit={l} />
                </li>
              ))}
          </ul>
          <details className="mt-2 text-sm">
            <summary className="cursor-pointer text-muted">{words.states.slack}</summary>
            <ul>
              {data.limits
                .filter((l) => l.state === 'slack')
                .map((l) => (
                  <li key={l.id}>{l.says}</li>
                ))}
            </ul>
          </details>
        </section>
      )}
      <p className="text-sm text-muted">
        {w.mixMinus} {w.hearing}
      </p>
    </div>
  )
}

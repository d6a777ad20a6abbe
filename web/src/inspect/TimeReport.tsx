import { useState } from 'react'
import { Link } from 'react-router'
import { api, type Failure } from '../api/client'
import type { components } from '../api/schema'
import { Takes } from '../look/Takes'
import { Problems } from '../parts/Frame'
import type { Change } from '../parts/change'
import { words } from '../words'
import type { Inspection } from './clip'

const w = words.inspect

type Keep = (c: Change) => Promise<boolean>

/** What a clip tells of time: a filmed slate, claps whose frames are picked, one sound against another. */
export function TimeReport({ one: i, keep }: { one: Inspection; keep: Keep }) {
  const t = i.times
  return (
    <section className="mt-6" data-testid="times">
      <h3 className="font-semibold">{w.time}</h3>
      {t.slate && <p className="mt-1">{t.slate.says}</p>}
      {t.against && (
        <p className="mt-1">
          {w.against[t.of ?? 'file']} {t.against.says}
        </p>
      )}
      {i.delays.length > 0 && <Takes takes={i.delays} of={i.name} keep={keep} />}
      {t.claps.length > 0 && <Claps one={i} keep={keep} />}
      {!t.slate && !t.against && t.claps.length === 0 && (
        <p className="mt-1 text-sm text-muted">
          {w.noTime} <Link to="/slate">{w.toSlate}</Link>
        </p>
      )}
    </section>
  )
}

/** Each clap that is heard, with the frames around it: the one in which the hands meet is picked. */
function Claps({ one: i, keep }: { one: Inspection; keep: Keep }) {
  const claps = i.times.claps
  const [picked, setPicked] = useState<Record<number, number>>({})
  const [got, setGot] = useState<components['schemas']['ClapsMet']>()
  const [failed, setFailed] = useState<Failure>()
  const pick = async (clap: number, frame: number) => {
    const now = { ...picked, [clap]: frame }
    if (picked[clap] === frame) delete now[clap]
    setPicked(now)
    setFailed(undefined)
    const which = Object.keys(now).map(Number)
    try {
      setGot(
        await api.clapped(
          i.id,
          which.map((k) => claps[k]!.at),
          which.map((k) => claps[k]!.frames[now[k]!]!.at),
        ),
      )
    } catch (e) {
      setFailed(e as Failure)
    }
  }
  return (
    <details className="mt-3" data-testid="claps">
      <summary className="cursor-pointer">{w.claps(claps.length)}</summary>
      <p className="max-w-2xl text-sm text-muted">{w.clapsHelp}</p>
      {claps.map((c, k) => (
        <fieldset key={c.at} className="mt-3">
          <legend className="text-sm tabular-nums">{w.clapAt(c.at)}</legend>
          <div className="flex gap-1 overflow-x-auto">
            {c.frames.map((f, n) => (
              <button
                key={f.at}
                aria-pressed={picked[k] === n}
                aria-label={w.frameAt(f.at)}
                className={`shrink-0 border-2 ${picked[k] === n ? 'border-ink' : 'border-transparent'}`}
                onClick={() => void pick(k, n)}
              >
                <img src={`data:image/jpeg;base64,${f.jpeg}`} alt="" className="block w-28" />
                <span className="text-xs tabular-nums">{f.at.toFixed(3)}</span>
              </button>
            ))}
          </div>
        </fieldset>
      ))}
      {failed && <Problems error={failed} />}
      <p className="mt-2" role="status">
        {got?.says}
      </p>
      {got && got.takes.length > 0 && <Takes key={got.says} takes={got.takes} of={i.name} keep={keep} />}
    </details>
  )
}

import type { Show, Board } from '../api/client'
import { Row, Choice, Tick } from '../parts/Field'
import { Put } from './choices'
import { Group } from './Group'
import { words } from '../words'

const w = words.show

export function Recordings({ show, items, put }: { show: Show; items: Board['rig']['items']; put: Put }) {
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

import type { Show, Board } from '../api/client'
import { Row, Choice } from '../parts/Field'
import { Put, pairs } from './choices'
import { words } from '../words'

const w = words.show

/** Programs beside the main one, and whose pictures they take. */
export function Also({ show, items, put }: { show: Show; items: Board['rig']['items']; put: Put }) {
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

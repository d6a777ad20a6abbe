import type { Gear } from '../api/client'
import { Row, Text, Choice } from '../parts/Field'
import { words } from '../words'

const w = words.shelf

/** Settings of the device that matter for a show, as it comes. */
export function Settings({ g, set }: { g: Gear; set: (part: Partial<Gear>, what: string) => void }) {
  const all = g.settings ?? []
  const left = Object.keys(w.settings).filter((id) => !all.some((s) => s.id === id))
  return (
    <>
      {all.map((s, i) => (
        <Row key={s.id} label={s.label || w.settings[s.id] || s.id}>
          <Text
            name={`${w.comes} ${s.label || w.settings[s.id] || s.id}`}
            value={s.as ?? ''}
            placeholder={words.shelf.unknown}
            width="w-28"
            keep={(v) =>
              set(
                { settings: all.map((x, k) => (k === i ? { ...x, as: v || undefined } : x)) },
                `${s.id}: ${v || w.unknown}`,
              )
            }
          />
          {!!s.excludes?.length && (
            <span className="text-xs text-muted">
              {w.excludes} {s.excludes.map((x) => w.settings[x] ?? x).join(', ')}
            </span>
          )}
          <button
            className="quiet text-xs"
            onClick={() => set({ settings: all.filter((_, k) => k !== i) }, `${w.without} ${s.id}`)}
          >
            {words.show.remove}
          </button>
        </Row>
      ))}
      {left.length > 0 && (
        <Row label={w.addSetting}>
          <Choice
            name={w.addSetting}
            value=""
            options={[['', w.choosePart], ...left.map((id) => [id, w.settings[id]!] as const)]}
            keep={(id) => id && set({ settings: [...all, { id }] }, `${w.addSetting}: ${id}`)}
          />
        </Row>
      )}
    </>
  )
}

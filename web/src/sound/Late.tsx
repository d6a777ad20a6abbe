import type { Board, Edit } from '../api/client'
import { FactField } from '../shelf/FactField'
import { Keep } from './heard'
import { words } from '../words'

const w = words.sound

/** How late the picture is through one thing, where somebody has measured it. */
export function Late({ now, item, keep }: { now: Board; item: string; keep: Keep }) {
  const it = now.rig.items.find((i) => i.id === item)
  if (!it) return null
  return (
    <FactField
      field="items/ID/pictureDelayMs"
      name={w.pictureLate}
      label={w.pictureLateOf(it.label)}
      fact={it.gear.pictureDelayMs}
      keep={(f, what) =>
        keep({
          edits: [{ do: 'fact', path: `items/${item}/pictureDelayMs`, fact: f } as Edit],
          what: `${it.label}: ${what}`,
        })
      }
    />
  )
}

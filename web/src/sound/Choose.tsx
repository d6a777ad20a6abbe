import { words } from '../words'

const w = words.sound

export function Choose(p: {
  label: string
  value: string
  set: (v: string) => void
  of: { id: string; label: string }[]
  shelf?: { id: string; label: string }[]
}) {
  return (
    <label className="text-sm">
      <span className="block text-muted">{p.label}</span>
      <select className="field max-w-56" value={p.value} onChange={(e) => p.set(e.target.value)}>
        <option value="">–</option>
        {p.of.map((i) => (
          <option key={i.id} value={i.id}>
            {i.label}
          </option>
        ))}
        {!!p.shelf?.length && (
          <optgroup label={w.fromShelf}>
            {p.shelf.map((i) => (
              <option key={i.id} value={i.id}>
                {i.label}
              </option>
            ))}
          </optgroup>
        )}
      </select>
    </label>
  )
}

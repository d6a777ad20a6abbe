import { useQuery, useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { type Board, api, type Edit, type Failure } from '../api/client'
import { keys } from '../api/keys'
import { Problems } from '../parts/Frame'
import { Choose } from './Choose'
import { Keep, ofShelf, picksUp, passes } from './heard'
import { words } from '../words'

const w = words.sound

export function AddWay({ now, keep }: { now: Board; keep: Keep }) {
  const [voice, setVoice] = useState('')
  const [from, setFrom] = useState('')
  const [via, setVia] = useState('')
  const items = now.rig.items
  const shelf = useQuery({ queryKey: keys.shelf, queryFn: () => api.shelf() })
  const add = useMutation({
    mutationFn: async () => {
      let edits: Edit[] = []
      let picked = from
      if (from.startsWith(ofShelf)) {
        // It comes into the rig first, with its leads; then it is whose voice it picks up.
        const done = await api.act(now.rig, { do: 'more', entry: from.slice(ofShelf.length), count: 1 })
        edits = done.edits
        picked = done.edits.find((e) => e.do === 'add')?.newItem?.id ?? ''
      }
      const path = { voice: voice.trim(), from: picked, ...(via ? { via: [via] } : {}) }
      const sound = {
        ...now.rig.sound,
        paths: [...(now.rig.sound?.paths ?? []), path],
      }
      return { edits: [...edits, { do: 'sound', sound } as Edit], what: `${path.voice}: ${w.add}` }
    },
    onSuccess: (c) => {
      keep(c)
      setVoice('')
      setFrom('')
      setVia('')
    },
  })
  return (
    <form
      className="mt-3 flex flex-wrap items-end gap-3"
      onSubmit={(e) => {
        e.preventDefault()
        if (voice.trim() && from) add.mutate()
      }}
    >
      <label className="text-sm">
        <span className="block text-muted">{w.voice}</span>
        <input className="field" maxLength={120} value={voice} onChange={(e) => setVoice(e.target.value)} />
      </label>
      <Choose
        label={w.from}
        value={from}
        set={setFrom}
        of={items.filter((i) => picksUp.has(i.gear.kind))}
        shelf={(shelf.data ?? [])
          .filter((s) => s.entry.gear.sound?.microphone)
          .map((s) => ({ id: ofShelf + s.entry.id, label: s.entry.gear.name }))}
      />
      <Choose
        label={w.via}
        value={via}
        set={setVia}
        of={items.filter((i) => passes.has(i.gear.kind) && i.id !== from)}
      />
      <button className="act" disabled={add.isPending}>
        {w.add}
      </button>
      {add.error && <Problems error={add.error as Failure} />}
    </form>
  )
}

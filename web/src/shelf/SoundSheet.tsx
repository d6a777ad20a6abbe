import type { Gear } from '../api/client'
import { Choice, Num, Row, Text } from '../parts/Field'
import { words } from '../words'
import { FactField } from './FactField'

const w = words.shelf.soundSheet
const pairs = <T extends string>(o: Record<T, string>) => Object.entries(o) as [T, string][]

type Sound = NonNullable<Gear['sound']>

/** Kinds of things sound comes from or goes through. */
const microphones = ['microphone', 'wireless-sound', 'camera', 'webcam', 'phone']
const passing = ['wireless-sound', 'audio-interface', 'mixer', 'switcher', 'recorder', 'capture', 'camera']

export const hears = (kind: Gear['kind']) => microphones.includes(kind) || passing.includes(kind)

/** What a thing does to sound: its microphone, what goes in, what comes out. */
export function SoundSheet({ g, set }: { g: Gear; set: (part: Partial<Gear>, what: string) => void }) {
  const s = g.sound ?? {}
  const put = (part: Partial<Sound>, what: string) => set({ sound: { ...s, ...part } }, what)
  const choice = (
    field:
      | 'microphone'
      | 'needs'
      | 'gives'
      | 'balanced'
      | 'takes'
      | 'socket'
      | 'feeds'
      | 'processes'
      | 'autoLevel',
  ) => (
    <Row label={w[field]}>
      <Choice
        name={w[field]}
        value={(s[field] ?? '') as string}
        options={[['', words.shelf.notSaid], ...pairs(w.words[field] as Record<string, string>)]}
        keep={(v) =>
          put(
            { [field]: v || undefined },
            `${w[field]}: ${v ? (w.words[field] as Record<string, string>)[v] : words.shelf.notSaid}`,
          )
        }
      />
    </Row>
  )
  const own = microphones.includes(g.kind)
  const through = passing.includes(g.kind)
  return (
    <>
      {own && choice('microphone')}
      {own && choice('needs')}
      {through && choice('takes')}
      {['audio-interface', 'mixer', 'recorder'].includes(g.kind) && (
        <FactField
          name={w.inputs}
          field="items/ID/sound/inputs"
          fact={s.inputs}
          keep={(f, what) => put({ inputs: f }, what)}
        />
      )}
      {through && choice('socket')}
      {through && choice('feeds')}
      {choice('gives')}
      {choice('balanced')}
      <Row label={w.kHz}>
        <Num
          name={w.kHz}
          unit="kHz"
          width="w-16"
          value={s.kHz}
          keep={(v) => put({ kHz: v }, `${w.kHz}: ${v ?? words.shelf.notSaid}`)}
        />
      </Row>
      {choice('processes')}
      {choice('autoLevel')}
      <FactField
        name={w.delay}
        field="items/ID/sound/delayMs"
        fact={s.delayMs}
        keep={(f, what) => put({ delayMs: f }, what)}
      />
      <Row label={w.listedAs} hint={w.listedHint}>
        <Text
          name={w.listedAs}
          value={s.listedAs ?? ''}
          width="w-56"
          keep={(v) => put({ listedAs: v || undefined }, `${w.listedAs}: ${v}`)}
        />
      </Row>
    </>
  )
}

import { useField } from '../api/fields'
import type { Edit } from '../api/client'
import { words } from '../words'
import { Choice, Num, Row } from './Field'

type Fact = number | { value: number; low?: number; high?: number; from?: string; at?: string }

/**
 * One thing a rig may state, changed in place: a number with its unit and bounds, or one of its words, as the field of that path
 * has them.
 */
export function Stated(p: {
  /** What it is called. */
  name: string
  /** Its field, with capitals for ids. */
  field: string
  /** The path it is written to. */
  path: string
  fact?: Fact
  word?: string
  /** Other words for its words. */
  says?: Record<string, string>
  hint?: string
  save: (c: { edits: Edit[]; what: string }) => void
}) {
  const field = useField(p.field)
  if (!field) return null
  const value = typeof p.fact === 'object' ? p.fact.value : p.fact
  const number = field.words.length === 0
  const label = (word: string) => p.says?.[word] ?? field.words.find((k) => k.word === word)?.label ?? word
  return (
    <Row label={p.name} hint={p.hint ?? field.how}>
      {number ? (
        <Num
          name={p.name}
          unit={field.unit}
          units={field.units}
          low={field.low}
          high={field.high}
          value={value}
          keep={(v) =>
            v !== undefined &&
            p.save({
              edits: [{ do: 'fact', path: p.path, fact: v } as Edit],
              what: `${p.name}: ${v} ${field.unit ?? ''}`,
            })
          }
        />
      ) : (
        <Choice
          name={p.name}
          value={p.word ?? ''}
          options={[['', words.show.notSaid], ...field.words.map((k) => [k.word, label(k.word)] as const)]}
          keep={(v) =>
            v !== '' &&
            p.save({ edits: [{ do: 'word', path: p.path, word: v } as Edit], what: `${p.name}: ${label(v)}` })
          }
        />
      )}
    </Row>
  )
}

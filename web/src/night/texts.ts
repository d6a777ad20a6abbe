import type { Op } from '../api/client'

/** The fields of an operation that people write, as the API names them. */
export const texts = [
  'text',
  'incident.what',
  'incident.cause',
  'incident.cure',
  'incident.next',
  'incident.part',
  'figure.what',
  'figure.unit',
] as const

/** One field of an operation, by its name; setting it gives another operation. */
export function fieldOf(op: Op, field: string) {
  const [of, name] = field.split('.') as [keyof Op, string | undefined]
  return {
    get: (): unknown => (name ? (op[of] as Record<string, unknown> | undefined)?.[name] : op[of]),
    set: (value: unknown): Op =>
      name ? { ...op, [of]: { ...(op[of] as object), [name]: value } } : { ...op, [of]: value },
  }
}

/** Marks that turn the direction of what follows, and control characters: chats and keyboards put them round names unasked. */
const unseen = /[\u0000-\u0008\u000b-\u001f\u007f-\u009f\u202a-\u202e\u2066-\u2069\ufffe\uffff]/g

export const withoutUnseen = (text: string) => text.replace(unseen, '')

import type { Completion } from '../api/client'

/** Characters, as the server counts them: what a person sees as one may be two for a script. */
export const chars = (text: string) => [...text]

/** A line and how far into it somebody is writing. */
export interface Place {
  line: string
  within: number
}

/** The line of a text a place is in, and how far into it. */
export function lineAt(text: string, at: number): Place & { start: number } {
  const start = text.lastIndexOf('\n', at - 1) + 1
  const end = text.indexOf('\n', at)
  const line = text.slice(start, end < 0 ? undefined : end)
  return { line, start, within: chars(text.slice(start, at)).length }
}

/**
 * What was offered for a line, for the line as it is now: an answer stays in view while the next one is awaited, and
 * what was typed meanwhile belongs to what it replaces. Nothing where the line has become another before or behind it.
 */
export function fitting(offered: Completion[], then: Place, now: Place): Completion[] {
  const was = chars(then.line)
  const is = chars(now.line)
  const behind = (c: string[], at: number) => c.slice(at).join('')
  const grown = now.within - then.within
  return offered
    .filter(
      (c) =>
        c.from <= now.within &&
        was.slice(0, c.from).join('') === is.slice(0, c.from).join('') &&
        c.to >= then.within &&
        behind(was, then.within) === behind(is, now.within),
    )
    .map((c) => ({ ...c, to: c.to + grown }))
}

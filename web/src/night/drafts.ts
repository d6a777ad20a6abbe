import type { Incident } from '../api/client'

/** What somebody types about an incident and has not kept yet: it stays in this device until it is kept or taken out. */
const key = (night: string, incident: string) => `draft ${night}/${incident}`

export function draftOf(night: string, incident: string): Incident | undefined {
  try {
    return (JSON.parse(localStorage.getItem(key(night, incident)) ?? 'null') as Incident | null) ?? undefined
  } catch {
    return undefined
  }
}

export const putDraft = (night: string, incident: string, text: Incident) =>
  localStorage.setItem(key(night, incident), JSON.stringify(text))

export const dropDraft = (night: string, incident: string) => localStorage.removeItem(key(night, incident))

/** Minutes an incident can lose, as they are typed; undefined for what is no such figure. */
export function minutesOf(typed: string): number | undefined {
  const n = Number(typed.trim().replace(',', '.'))
  return typed.trim() !== '' && n >= 0 && n <= 10080 ? n : undefined
}

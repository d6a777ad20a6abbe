/** A time of day so many minutes before air. */
export const clock = (air: Date, before: number) =>
  new Date(air.getTime() - before * 60_000).toLocaleTimeString('en-GB', {
    hour: '2-digit',
    minute: '2-digit',
  })

/** The next evening at a time of day, as a field of the page has it. */
export function nextAir(startsAt?: string) {
  const [h, m] = (startsAt ?? '19:30').split(':').map(Number)
  const at = new Date()
  at.setHours(h!, m, 0, 0)
  if (at.getTime() < Date.now()) at.setDate(at.getDate() + 1)
  return field(at)
}

export function field(at: Date) {
  const two = (n: number) => String(n).padStart(2, '0')
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}T${two(at.getHours())}:${two(at.getMinutes())}`
}

export const figure = (m: number) => String(Math.round(m * 10) / 10)

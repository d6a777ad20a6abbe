/** Figures as they are written on screen: three significant digits at least, bounds when there are some, a tilde and "est." for estimates. */
import { words } from '../words'

function plain(v: number): string {
  if (Number.isInteger(v) || Math.abs(v) >= 1000) return v.toFixed(0)
  const digits = Math.abs(v) >= 100 ? 1 : Math.abs(v) >= 1 ? 2 : 3
  return String(Number(v.toFixed(digits)))
}

export function bounds(a: number, b: number, unit: string): string {
  const [low, high] = a <= b ? [a, b] : [b, a]
  const text = plain(low) === plain(high) ? plain(low) : `${plain(low)} to ${plain(high)}`
  return `${text} ${unit}`.trim()
}

export function figure(f: { low: number; value: number; high: number }, unit: string, est: boolean): string {
  const text = bounds(f.low, f.high, unit)
  if (!est) return text
  return f.low === f.high ? `~${text} ${words.hop.est}` : `~${plain(f.value)} (${text}) ${words.hop.est}`
}

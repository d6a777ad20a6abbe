import type { Edit, Show } from '../api/client'

export const sizes = ['1280×720', '1920×1080', '2560×1440', '3840×2160', '1080×1920'].map(
  (s) => [s, s] as const,
)
export const rates = [
  ['24000/1001', '23.976'],
  ['24', '24'],
  ['25', '25'],
  ['30000/1001', '29.97'],
  ['30', '30'],
  ['50', '50'],
  ['60000/1001', '59.94'],
  ['60', '60'],
] as const
export const pairs = <T extends string>(o: Record<T, string>) => Object.entries(o) as [T, string][]
export const sizeOf = (p: { width: number; height: number }) => `${p.width}×${p.height}`
export const sized = (s: string) => {
  const [width, height] = s.split('×').map(Number)
  return { width: width!, height: height! }
}
export function rateName(rate: string) {
  return rates.find(([v]) => v === rate)?.[1] ?? rate
}
export type Put = (part: Partial<Show>, what: string) => void
export type Save = (e: { edits: Edit[]; what: string }) => void

import type { Log } from '../api/client'

export type Season = Log['season']
export const hours = (h: number) => (h < 10 ? String(Math.round(h * 10) / 10) : String(Math.round(h)))
export const day = (ms: number) => new Date(ms).toISOString().slice(0, 10)

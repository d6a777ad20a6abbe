import { keys } from '../api/keys'
import { type Board, api } from '../api/client'
import { useQuery } from '@tanstack/react-query'
import type { Change } from '../parts/change'

export type Keep = (c: Change) => void
export const useSound = (now: Board) =>
  useQuery({
    queryKey: keys.sound(now.rig),
    queryFn: () => api.sound(now.rig),
    placeholderData: (was) => was,
    staleTime: Infinity,
  })
export const figure = (x: { low: number; value: number; high: number }) =>
  Math.round(x.low) === Math.round(x.high)
    ? signed(x.value)
    : `~${signed(x.value)} (${signed(x.low)} … ${signed(x.high)})`
export const signed = (v: number) => String(Math.round(v)).replace('-', '−')
export const picksUp = new Set([
  'microphone',
  'camera',
  'phone',
  'webcam',
  'computer',
  'player',
  'console',
  'mixer',
  'audio-interface',
  'wireless-sound',
])
export const passes = new Set([
  'audio-interface',
  'mixer',
  'wireless-sound',
  'switcher',
  'camera',
  'recorder',
  'capture',
])
export const ofShelf = 'shelf:'

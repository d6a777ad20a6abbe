import { useCallback, useState } from 'react'
import type { Change } from '../parts/change'

/** A change that is held, for one rig: it survives a reload of the page, not the tab. */
export function useHeld(rig: string): [Change | undefined, (c: Change | undefined) => void] {
  const key = `held ${rig}`
  const [held, setHeld] = useState<Change | undefined>(() => {
    try {
      return (JSON.parse(sessionStorage.getItem(key) ?? 'null') as Change | null) ?? undefined
    } catch {
      return undefined
    }
  })
  const hold = useCallback(
    (c: Change | undefined) => {
      setHeld(c)
      if (c) sessionStorage.setItem(key, JSON.stringify(c))
      else sessionStorage.removeItem(key)
    },
    [key],
  )
  return [held, hold]
}

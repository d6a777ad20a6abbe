import { useCallback, useEffect, useRef } from 'react'

/** A rig as it was kept last. */
type Kept = { id: string; revision: number }

/** Tells the other tabs of a rig that was kept, and hears of those they kept. */
export function useOtherTabs(hear: (n: Kept) => void): (n: Kept) => void {
  const channel = useRef<BroadcastChannel>(undefined)
  useEffect(() => {
    const c = new BroadcastChannel('rigs')
    c.onmessage = (e: MessageEvent<Kept>) => hear(e.data)
    channel.current = c
    return () => {
      channel.current = undefined
      c.close()
    }
  }, [hear])
  return useCallback((n) => channel.current?.postMessage(n), [])
}

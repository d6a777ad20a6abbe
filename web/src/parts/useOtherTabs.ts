import { useCallback, useEffect, useRef } from 'react'

/** A rig as it was kept last. */
type Kept = { id: string; revision: number }

/**
 * Tells the other tabs of a rig that was kept, and hears of what they and other devices keep. One tab of the browser
 * listens to the server for all of them: a browser opens few connections to one address.
 */
export function useOtherTabs(hear: (n: Kept) => void): (n: Kept) => void {
  const channel = useRef<BroadcastChannel>(undefined)
  useEffect(() => {
    const c = new BroadcastChannel('rigs')
    c.onmessage = (e: MessageEvent<Kept>) => hear(e.data)
    channel.current = c
    const gone = new AbortController()
    void navigator.locks
      ?.request('rig-events', { signal: gone.signal }, () => {
        const events = new EventSource('/api/events')
        events.addEventListener('kept', (e) => {
          const n = JSON.parse((e as MessageEvent<string>).data) as Kept
          c.postMessage(n)
          hear(n)
        })
        return new Promise<void>((done) =>
          gone.signal.addEventListener('abort', () => {
            events.close()
            done()
          }),
        )
      })
      .catch(() => undefined) // it left before its turn came
    return () => {
      gone.abort()
      channel.current = undefined
      c.close()
    }
  }, [hear])
  return useCallback((n) => channel.current?.postMessage(n), [])
}

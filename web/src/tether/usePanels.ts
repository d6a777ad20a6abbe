import { useCallback, useRef, useState } from 'react'
import type { HopAt } from './hops'

/** Which hop or thing is opened beside the board; what was pressed to open it has the focus again when it closes. */
export function usePanels() {
  const [open, setOpen] = useState<HopAt>()
  const [thing, setThing] = useState<string>()
  const from = useRef<HTMLElement>(undefined)
  const close = useCallback(() => {
    setOpen(undefined)
    setThing(undefined)
    const back = from.current
    setTimeout(() => back?.isConnected && back.focus())
  }, [])
  const hop = useCallback(
    (at: HopAt | undefined) => {
      if (!at) return close()
      from.current = document.activeElement as HTMLElement
      setOpen(at)
    },
    [close],
  )
  const look = useCallback((item: string) => {
    from.current = document.activeElement as HTMLElement
    setOpen(undefined)
    setThing(item)
  }, [])
  return { open, thing, hop, look, close }
}

import { useCallback, useLayoutEffect, useRef } from 'react'

/** One function for as long as the page stands, that does what the newest does: what is given it need not be drawn anew. */
export function useStable<A extends unknown[], R>(newest: (...args: A) => R): (...args: A) => R {
  const ref = useRef(newest)
  useLayoutEffect(() => {
    ref.current = newest
  })
  return useCallback((...args: A) => ref.current(...args), [])
}

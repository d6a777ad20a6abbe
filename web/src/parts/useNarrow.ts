import { useEffect, useState } from 'react'

/** Whether the page is too narrow for the board: a phone's, or a tablet's in portrait. */
export function useNarrow() {
  const [narrow, setNarrow] = useState(() => window.matchMedia('(max-width: 1039px)').matches)
  useEffect(() => {
    const m = window.matchMedia('(max-width: 1039px)')
    const on = () => setNarrow(m.matches)
    m.addEventListener('change', on)
    return () => m.removeEventListener('change', on)
  }, [])
  return narrow
}

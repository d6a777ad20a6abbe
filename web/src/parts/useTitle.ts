import { useEffect } from 'react'
import { words } from '../words'

/** The title of the browser's tab while this is shown: the most particular first. */
export function useTitle(...parts: (string | undefined)[]) {
  const title = [...parts.filter(Boolean), words.product].join(' · ')
  useEffect(() => {
    document.title = title
  }, [title])
}

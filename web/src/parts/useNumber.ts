import { useEffect, useRef, useState } from 'react'
import { api } from '../api/client'

/** What a field of numbers takes. */
export type Takes = { unit?: string; units?: string; low?: number; high?: number }

/**
 * A number while it is typed: what was typed stays until it is right, and what is wrong with it is said at the field and goes
 * when it is changed. Reading is the core's.
 */
export function useNumber(takes: Takes, first?: string) {
  const [text, set] = useState<string | undefined>(first)
  const [wrong, setWrong] = useState<string>()
  // Once the hand rests, what is wrong is said before it is kept.
  const asks = useRef(takes)
  useEffect(() => {
    asks.current = takes
  })
  useEffect(() => {
    if (!text?.trim() || asks.current.low === undefined) return
    let still = true
    const rests = setTimeout(() => {
      api.number({ text, ...asks.current }).catch((e: Error) => still && setWrong(e.message))
    }, 400)
    return () => {
      still = false
      clearTimeout(rests)
    }
  }, [text])
  return {
    text,
    wrong,
    set: (t: string | undefined) => {
      set(t)
      setWrong(undefined)
    },
    /** The number, or nothing where it is not one: then wrong says why. */
    read: async (): Promise<number | undefined> => {
      try {
        const { value } = await api.number({ text: text ?? '', ...takes })
        setWrong(undefined)
        return value
      } catch (e) {
        setWrong((e as Error).message)
        return undefined
      }
    },
  }
}

import { useEffect, useRef, useState } from 'react'
import { api } from '../api/client'

/** What a field of numbers takes. */
export type Takes = { unit?: string; units?: string; low?: number; high?: number; whole?: boolean }

/**
 * What is typed into a field: it stays until it is right, and what is wrong with it is said at the field and goes when it is
 * changed. Reading is the core's.
 */
export function useTyped<T>(
  read: (text: string) => Promise<T>,
  { first, early = false }: { first?: string; early?: boolean } = {},
) {
  const [text, set] = useState<string | undefined>(first)
  const [wrong, setWrong] = useState<string>()
  // Once the hand rests, what is wrong is said before it is kept.
  const asks = useRef(read)
  useEffect(() => {
    asks.current = read
  })
  useEffect(() => {
    if (!text?.trim() || !early) return
    let still = true
    const rests = setTimeout(() => {
      asks.current(text).catch((e: Error) => still && setWrong(e.message))
    }, 400)
    return () => {
      still = false
      clearTimeout(rests)
    }
  }, [text, early])
  return {
    text,
    wrong,
    set: (t: string | undefined) => {
      set(t)
      setWrong(undefined)
    },
    /** What it means, or nothing where it means nothing: then wrong says why. */
    read: async (): Promise<T | undefined> => {
      try {
        const value = await read(text ?? '')
        setWrong(undefined)
        return value
      } catch (e) {
        setWrong((e as Error).message)
        return undefined
      }
    },
  }
}

/** A number while it is typed. */
export const useNumber = (takes: Takes, first?: string) =>
  useTyped(async (text) => (await api.number({ text, ...takes })).value, {
    first,
    early: takes.low !== undefined,
  })

/**
 * Asks for what was added to a night until all that was told of is known; what is told of during an answer may not be in it, and is
 * asked for after it. `have` is how far this device is, undefined before it is loaded; `ask` brings it further, or leaves it as it
 * is where it fails: then it is left to the next word, or the next refetch.
 */
export function follow(have: () => number | undefined, ask: (since: number) => Promise<unknown>) {
  let told = 0
  let asking = false
  return async (seq: number) => {
    told = Math.max(told, seq)
    if (asking) return
    asking = true
    try {
      for (let at = have(), was = -1; at !== undefined && at < told && at !== was; at = have()) {
        was = at
        await ask(at)
      }
    } finally {
      asking = false
    }
  }
}

/** Which device of this browser is what of a rig: kept in this browser only, for the ids of devices are its own. */
export type Tie = { of: string; label: string }

const place = (rig: string) => `eventether-ties-${rig}`

export function ties(rig: string): Record<string, Tie> {
  try {
    return JSON.parse(localStorage.getItem(place(rig)) ?? '{}') as Record<string, Tie>
  } catch {
    return {}
  }
}

export function tie(rig: string, device: string, to: Tie) {
  try {
    localStorage.setItem(place(rig), JSON.stringify({ ...ties(rig), [device]: to }))
  } catch {
    // it is asked again next time
  }
}

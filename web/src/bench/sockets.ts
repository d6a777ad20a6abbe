import type { Item, Lead, Port, Rig } from '../api/client'

/** A socket with the lead that is in it and what is at its other end. */
export type Socket = { ref: string; port: Port; lead?: Lead; other?: { label: string; socket: string } }

/** A socket's name as printed beside it, else by its id. */
export function portName(p: Port): string {
  if (p.label) return p.label
  return /^(hdmi|usb|sdi)$/.test(p.id) ? p.id.toUpperCase() : p.id.replaceAll('-', ' ')
}

/** The thing and the socket a reference names. */
export function at(rig: Rig, ref: string): { item?: Item; port?: Port } {
  const dot = ref.indexOf('.')
  const item = rig.items.find((i) => i.id === ref.slice(0, dot))
  return { item, port: item?.gear.ports?.find((p) => p.id === ref.slice(dot + 1)) }
}

export function socketsOf(rig: Rig, item: Item): Socket[] {
  return (item.gear.ports ?? []).map((port) => {
    const ref = `${item.id}.${port.id}`
    const lead = rig.leads.find((l) => l.from === ref || l.to === ref)
    const end = lead && at(rig, lead.from === ref ? lead.to : lead.from)
    return {
      ref,
      port,
      lead,
      other: end?.item && { label: end.item.label, socket: end.port ? portName(end.port) : '' },
    }
  })
}

/** The things no tether passes: beside the board they stand in a band of their own. */
export function beside(rig: Rig, passed: Set<string>): Item[] {
  return rig.items.filter((i) => !passed.has(i.id))
}

import { useEffect, useRef } from 'react'
import type { Gear, Port } from '../api/client'
import { Choice, Num, Row, Text, Tick } from '../parts/Field'
import { words } from '../words'
import { FactField } from './FactField'
import { Face } from './Face'
import { ModeList } from './ModeList'

const w = words.shelf
const pairs = <T extends string>(o: Record<T, string>) => Object.entries(o) as [T, string][]

type Set = (part: Partial<Gear>, what: string) => void

/** What a socket may be: its opening and its way. */
const kinds: [Port['connector'], Port['direction']][] = [
  ['hdmi-a', 'in'],
  ['hdmi-a', 'out'],
  ['hdmi-c', 'out'],
  ['hdmi-d', 'out'],
  ['bnc', 'in'],
  ['bnc', 'out'],
  ['usb-a', 'upstream'],
  ['usb-c', 'upstream'],
  ['usb-b', 'upstream'],
  ['usb-micro-b', 'upstream'],
  ['usb-a', 'downstream'],
  ['usb-c', 'downstream'],
  ['pcie', 'upstream'],
  ['pcie', 'downstream'],
  ['lan', 'out'],
  ['lan', 'downstream'],
  ['internal', 'upstream'],
]

const named = (connector: string, direction: string) =>
  `${w.connectors[connector] ?? connector}, ${w.directions[direction]}`

/** A fresh socket, of which nothing is known yet but what it is. */
function fresh(gear: Gear, connector: Port['connector'], direction: Port['direction']): Port {
  const word = { in: 'in', out: 'out', upstream: 'to', downstream: 'for' }[direction]
  const base = `${connector.split('-')[0]}-${word}`
  const taken = new Set((gear.ports ?? []).map((p) => p.id))
  let id = base
  for (let n = 2; taken.has(id); n++) id = `${base}-${n}`
  const port: Port = { id, connector, direction }
  if (connector.startsWith('hdmi')) port.hdmi = {}
  if (connector === 'bnc') port.sdi = { link: 'unknown' }
  if (connector === 'pcie') port.slot = { generation: 3, lanes: 4 }
  if (connector.startsWith('usb') || connector === 'internal')
    port.usb = { speed: 'unknown', ...(direction === 'upstream' && { transfer: 'unknown' as const }) }
  if (direction === 'downstream' && port.usb && gear.controllers?.length)
    port.controller = gear.controllers[0]!.id
  return port
}

/** The thing drawn with its sockets, and the one that is chosen below it; sockets are put in, named, set and taken away here. */
export function Sockets({
  gear: g,
  set,
  chosen,
  choose,
}: {
  gear: Gear
  set: Set
  /** The socket that is open; it stays so while the sheet comes anew. */
  chosen?: string
  choose: (port: string | undefined) => void
}) {
  const pressed = useRef(false)
  useEffect(() => {
    if (chosen && pressed.current) document.getElementById(`socket-${chosen}`)?.focus()
    pressed.current = false
  }, [chosen])
  const ports = g.ports ?? []
  const at = ports.findIndex((p) => p.id === chosen)
  const change = (i: number, part: Partial<Port>, what: string) =>
    set({ ports: ports.map((p, k) => (k === i ? { ...p, ...part } : p)) }, what)
  return (
    <div data-testid="sockets">
      <Face
        gear={g}
        chosen={chosen}
        go={(port) => {
          pressed.current = true
          choose(port)
        }}
      />
      <div className="mt-2 flex flex-wrap items-center gap-3 text-sm">
        <select
          className="field"
          aria-label={w.addSocket}
          value=""
          onChange={(e) => {
            const [connector, direction] = kinds[Number(e.target.value)]!
            const port = fresh(g, connector, direction)
            set({ ports: [...ports, port] }, `${w.addSocket}: ${named(connector, direction)}`)
            choose(port.id)
          }}
        >
          <option value="">{w.addSocket} …</option>
          {kinds.map(([c, d], i) => (
            <option key={i} value={i}>
              {named(c, d)}
            </option>
          ))}
        </select>
        {ports.length > 0 && at < 0 && <span className="text-muted">{w.chooseSocket}</span>}
      </div>
      {at >= 0 && (
        <Socket
          key={chosen}
          gear={g}
          port={ports[at]!}
          keep={(part, what) => change(at, part, `${ports[at]!.label || ports[at]!.id}: ${what}`)}
          remove={() => {
            choose(undefined)
            set(
              {
                ports: ports
                  .filter((_, k) => k !== at)
                  .map((p) => (p.loopOf === chosen ? { ...p, loopOf: undefined } : p)),
              },
              `${w.without} ${ports[at]!.label || ports[at]!.id}`,
            )
          }}
          close={() => choose(undefined)}
        />
      )}
    </div>
  )
}

/** Everything of one socket. */
function Socket({
  gear: g,
  port: p,
  keep,
  remove,
  close,
}: {
  gear: Gear
  port: Port
  keep: (part: Partial<Port>, what: string) => void
  remove: () => void
  close: () => void
}) {
  const inputs = (g.ports ?? []).filter((x) => x.direction === 'in')
  return (
    <div
      id={`socket-${p.id}`}
      tabIndex={-1}
      className="mt-3 border-l-4 border-ink pl-4"
      data-port={p.id}
      role="group"
      aria-label={p.label || p.id}
    >
      <Row label={named(p.connector, p.direction)}>
        <Text
          name={`${w.socketName} ${p.id}`}
          value={p.label ?? ''}
          width="w-44"
          placeholder={w.socketName}
          keep={(v) => keep({ label: v || undefined }, v)}
        />
        <button className="quiet text-sm" onClick={remove}>
          {w.removeSocket}
        </button>
        <button className="quiet text-sm" onClick={close}>
          {words.hop.close}
        </button>
      </Row>
      {p.connector.startsWith('hdmi') && (
        <>
          <FactField
            name={w.maxRate}
            label={`${w.maxRate} ${p.id}`}
            field="items/ID/ports/PORT/hdmi/maxTmdsMHz"
            fact={p.hdmi?.maxTmdsMHz}
            keep={(f, what) => keep({ hdmi: { ...p.hdmi, maxTmdsMHz: f } }, what)}
          />
          <Row label={w.fixedRate}>
            <Choice
              name={`${w.fixedRate} ${p.id}`}
              value={p.hdmi?.fixedRate ?? 'none'}
              options={pairs(w.fixedRates)}
              keep={(v) => keep({ hdmi: { ...p.hdmi, fixedRate: v } }, w.fixedRates[v])}
            />
          </Row>
        </>
      )}
      {p.sdi && (
        <Row label={w.link}>
          <Choice
            name={`${w.link} ${p.id}`}
            value={p.sdi.link}
            options={(['SD', 'HD', '3G', '6G', '12G', 'unknown'] as const).map((x) => [x, x] as const)}
            keep={(v) => keep({ sdi: { ...p.sdi!, link: v } }, v)}
          />
          <Choice
            name={`${w.level} ${p.id}`}
            value={p.sdi.level ?? 'unknown'}
            options={pairs(w.levels)}
            keep={(v) => keep({ sdi: { ...p.sdi!, level: v } }, w.levels[v])}
          />
        </Row>
      )}
      {p.usb && (
        <>
          <Row label="USB">
            <Choice
              name={`${w.speed} ${p.id}`}
              value={p.usb.speed}
              options={pairs(w.speeds)}
              keep={(v) => keep({ usb: { ...p.usb!, speed: v } }, w.speeds[v])}
            />
            {p.direction === 'upstream' && (
              <Choice
                name={`${w.transfer} ${p.id}`}
                value={p.usb.transfer ?? 'unknown'}
                options={pairs(w.transfers)}
                keep={(v) => keep({ usb: { ...p.usb!, transfer: v } }, w.transfers[v])}
              />
            )}
            {p.direction === 'downstream' && (
              <Tick
                label={w.chargeOnly}
                value={!!p.chargeOnly}
                keep={(v) => keep({ chargeOnly: v || undefined }, w.chargeOnly)}
              />
            )}
          </Row>
          {p.direction === 'upstream' && (
            <FactField
              name={w.reserves}
              label={`${w.reserves} ${p.id}`}
              field="items/ID/ports/PORT/usb/reservesMBps"
              fact={p.usb.reservesMBps}
              keep={(f, what) => keep({ usb: { ...p.usb!, reservesMBps: f } }, what)}
            />
          )}
          {p.direction === 'downstream' && (
            <>
              <FactField
                name={w.allows}
                label={`${w.allows} ${p.id}`}
                field="items/ID/ports/PORT/allowsMa"
                fact={p.allowsMa}
                keep={(f, what) => keep({ allowsMa: f }, what)}
              />
              {(g.controllers?.length ?? 0) > 1 && (
                <Row label={w.sharesWith}>
                  <Choice
                    name={`${w.sharesWith} ${p.id}`}
                    value={p.controller ?? ''}
                    options={g.controllers!.map(
                      (c) =>
                        [
                          c.id,
                          w.onController(
                            c.id,
                            (g.ports ?? [])
                              .filter((x) => x.controller === c.id && x.id !== p.id)
                              .map((x) => x.label || x.id),
                          ),
                        ] as const,
                    )}
                    keep={(v) => keep({ controller: v }, v)}
                  />
                </Row>
              )}
            </>
          )}
        </>
      )}
      {p.slot && (
        <Row label={w.slotHas}>
          <Choice
            name={`${w.lanes} ${p.id}`}
            value={String(p.slot.lanes)}
            options={['1', '2', '4', '8', '16'].map((n) => [n, `×${n}`] as const)}
            keep={(v) => keep({ slot: { ...p.slot!, lanes: Number(v) as 1 } }, `×${v}`)}
          />
          <Choice
            name={`${w.generation} ${p.id}`}
            value={String(p.slot.generation)}
            options={['1', '2', '3', '4', '5'].map((n) => [n, `PCI Express ${n}`] as const)}
            keep={(v) => keep({ slot: { ...p.slot!, generation: Number(v) } }, `PCI Express ${v}`)}
          />
          {p.direction === 'downstream' && (
            <>
              <Num
                name={`${w.slotPlace} ${p.id}`}
                value={p.slot.place}
                width="w-14"
                low={0}
                high={20}
                keep={(v) => keep({ slot: { ...p.slot!, place: v } }, `${w.slotPlace} ${v ?? ''}`)}
              />
              <Text
                name={`${w.halvedBy} ${p.id}`}
                value={p.slot.sharedWith ?? ''}
                width="w-44"
                placeholder={w.halvedBy}
                keep={(v) => keep({ slot: { ...p.slot!, sharedWith: v || undefined } }, `${w.halvedBy} ${v}`)}
              />
            </>
          )}
        </Row>
      )}
      {p.direction === 'out' && inputs.length > 0 && (
        <Row label={w.passesOn}>
          <Choice
            name={`${w.passesOn} ${p.id}`}
            value={p.loopOf ?? ''}
            options={[['', w.itsOwn], ...inputs.map((x) => [x.id, x.label || x.id] as const)]}
            keep={(v) => keep({ loopOf: v || undefined }, v ? `${w.passes} ${v}` : w.itsOwn)}
          />
        </Row>
      )}
      {p.direction === 'in' && (
        <Row label={w.takesMore}>
          <Tick
            label={w.scales}
            value={!!p.scaler}
            keep={(v) => keep({ scaler: v || undefined }, w.scales)}
          />
          {p.connector.startsWith('hdmi') && (
            <Choice
              name={`${w.takes420} ${p.id}`}
              value={p.takes420 ?? 'unknown'}
              options={pairs(w.takes420s)}
              keep={(v) => keep({ takes420: v }, w.takes420s[v])}
            />
          )}
          <Tick
            label={w.mayBeMore}
            value={!!p.moreModes}
            keep={(v) => keep({ moreModes: v || undefined }, w.mayBeMore)}
          />
        </Row>
      )}
      {(p.direction === 'in' || p.direction === 'out') && (
        <ModeList port={p} keep={(modes, what) => keep({ modes, modesFrom: p.modesFrom }, what)} />
      )}
    </div>
  )
}

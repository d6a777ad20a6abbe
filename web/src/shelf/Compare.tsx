import type { Gear, Shelved } from '../api/client'
import { money } from '../parts/money'
import { words } from '../words'
import { type Fact, factText } from './FactField'
import { modeName } from './ModeList'

const w = words.shelf

/** Two sheets side by side; lines that differ stand out. */
export function Compare({ left, right, close }: { left: Shelved; right: Shelved; close: () => void }) {
  const rows = lines(left).map(([name, a], i) => [name, a, lines(right)[i]![1]] as const)
  const ports = [
    ...new Set([...(left.entry.gear.ports ?? []), ...(right.entry.gear.ports ?? [])].map((p) => p.id)),
  ]
  return (
    <article data-testid="compare">
      <div className="flex items-center justify-between">
        <h2 className="text-xl font-semibold">{w.compareTitle}</h2>
        <button className="act text-sm" onClick={close}>
          {words.list.close}
        </button>
      </div>
      <table className="mt-4 w-full table-fixed text-sm">
        <thead>
          <tr className="border-b border-ink text-left align-bottom">
            <th className="w-44 py-1 font-normal text-muted">{w.differs}</th>
            <th className="py-1 pr-4">{left.entry.gear.name}</th>
            <th className="py-1">{right.entry.gear.name}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(([name, a, b]) => (
            <Pair key={name} name={name} a={a} b={b} />
          ))}
          {ports.map((id) => (
            <Pair
              key={id}
              name={`${w.socket} ${id}`}
              a={port(left.entry.gear, id)}
              b={port(right.entry.gear, id)}
            />
          ))}
        </tbody>
      </table>
    </article>
  )
}

function Pair({ name, a, b }: { name: string; a: string; b: string }) {
  const same = a === b
  return (
    <tr className="border-b border-hair align-top" data-differs={!same}>
      <th scope="row" className="py-1 pr-3 text-left font-normal text-muted">
        {name}
      </th>
      <td className={`py-1 pr-4 break-words ${same ? 'text-muted' : 'font-semibold'}`}>{a || w.notSaid}</td>
      <td className={`py-1 break-words ${same ? 'text-muted' : 'font-semibold'}`}>{b || w.notSaid}</td>
    </tr>
  )
}

function lines({ entry: e }: Shelved): [string, string][] {
  const g = e.gear
  const fact = (f: Fact | undefined, unit: string) => (f === undefined ? '' : factText(f, unit))
  return [
    [w.kind, w.kinds[g.kind] ?? g.kind],
    [w.owned, e.owned ? w.mine : ''],
    [w.price, e.price ? money(e.price) : ''],
    [w.clean, g.clean ? w.cleans[g.clean] : ''],
    [w.protected, g.protected ? w.protections[g.protected] : ''],
    [w.driver, g.driver ? w.drivers[g.driver] : ''],
    [w.listedAs, g.listedAs ?? ''],
    [w.oddSizes, g.oddSizes ? w.hows[g.oddSizes] : ''],
    [w.draw, fact(g.power?.drawW, 'W')],
    [w.mAh, fact(g.power?.battery?.mAh, 'mAh')],
    [w.mains, g.power?.mains ? w.mainsWays[g.power.mains] : ''],
    [w.recordLimit, fact(g.recordLimitMinutes, 'min')],
    [w.standby, g.standby?.does ? w.standbys[g.standby.does] : ''],
    [
      w.settingsTitle,
      (g.settings ?? [])
        .map((s) => `${s.label || w.settings[s.id] || s.id}: ${s.as ?? w.unknown}`)
        .join(', '),
    ],
    [
      w.delivers,
      (g.delivers ?? []).map((d) => `${d.format} ${d.width}×${d.height} ${w.upTo} ${d.maxRate}`).join(', '),
    ],
  ]
}

function port(g: Gear, id: string): string {
  const p = g.ports?.find((x) => x.id === id)
  if (!p) return ''
  return [
    w.connectors[p.connector] ?? p.connector,
    w.directions[p.direction],
    p.hdmi?.maxTmdsMHz !== undefined ? factText(p.hdmi.maxTmdsMHz, 'MHz') : '',
    p.sdi ? `${p.sdi.link}-SDI` : '',
    p.usb ? w.speeds[p.usb.speed] : '',
    (p.modes ?? []).map(modeName).join(', '),
  ]
    .filter(Boolean)
    .join('; ')
}

import type { ReactNode } from 'react'
import type { Board } from '../api/client'
import { Problems } from '../parts/Frame'
import type { Change } from '../parts/change'
import { words } from '../words'
import { mayOpen } from './device'
import { ClapTest } from './ClapTest'
import { DeviceRow } from './DeviceRow'
import { MatchCameras } from './MatchCameras'
import { PreflightTable } from './PreflightTable'
import { Report } from './Report'
import { TogetherTable } from './TogetherTable'
import { type Choice, type Preflight, useDevices } from './useDevices'

const w = words.look.devices

/** The cameras and microphones of this computer: which is what of the rig, and what each really delivers. */
export function Devices({
  rig,
  choices,
  order,
  keep,
  then,
}: {
  rig: Pick<Board, 'id'>
  choices: Choice[]
  /** What is looked at first when everything is: the run sheet's order. */
  order: string[]
  /** Keeps what was measured in the rig; nothing is offered for it where it is not to be changed here. */
  keep?: (c: Change) => Promise<boolean>
  /** What can be done with a look at everything. */
  then?: (p: Preflight) => ReactNode
}) {
  const devices = useDevices(rig.id, choices, order)
  const { rows, problems, failure, finding, open, done, going, together, preflight, waved, twins } = devices
  const pictures = rows?.filter((r) => r.of && r.kind === 'videoinput') ?? []
  const sounds = rows?.filter((r) => r.kind === 'audioinput') ?? []
  const openOnes = Object.keys(open).length
  return (
    <section className="mb-8" data-testid="devices">
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.title}</h2>
      <p className="mt-2 max-w-2xl text-sm text-muted">{w.help}</p>
      {mayOpen() ? (
        <div className="mt-3 flex flex-wrap items-center gap-3">
          <button
            className="act"
            disabled={finding || choices.length === 0}
            onClick={() => void devices.find()}
          >
            {rows ? w.again : w.begin}
          </button>
          {rows && rows.some((r) => r.of) && (
            <button className="act" disabled={!!going} onClick={() => void devices.everything()}>
              {w.everything}
            </button>
          )}
          {rows && rows.some((r) => r.of) && <span className="text-sm text-muted">{w.everythingHelp}</span>}
        </div>
      ) : (
        <p className="mt-3 max-w-2xl border-l-4 border-untested pl-3">{w.insecure}</p>
      )}
      {finding && <p role="status">{w.finding}</p>}
      {problems.map((p) => (
        <p key={p} role="alert" className="mt-2 border-l-4 border-snapped pl-3">
          {p}
        </p>
      ))}
      {failure && <Problems error={failure} />}
      {openOnes > 0 && (
        <p
          role="status"
          className="sticky top-0 z-10 mt-3 flex flex-wrap items-center gap-3 border border-ink bg-paper px-3 py-2"
          data-testid="open-devices"
        >
          <span aria-hidden className="size-3 rounded-full bg-snapped" />
          <b>{w.openNow(openOnes)}</b>
          <span className="min-w-0 flex-1 truncate">{going}</span>
          <button className="act" onClick={devices.closeAll}>
            {w.closeAll}
          </button>
        </p>
      )}
      {rows && rows.length === 0 && <p className="mt-3">{w.noInputs}</p>}
      {twins.length > 1 && (
        <p className="mt-3 flex flex-wrap items-center gap-3 border-l-4 border-untested pl-3">
          {w.twins(twins.length)}
          <button className="act" disabled={!!going} onClick={() => void devices.watch()}>
            {w.watch}
          </button>
        </p>
      )}
      {rows && rows.length > 0 && (
        <ul className="mt-3">
          {rows.map((r) => (
            <DeviceRow
              key={r.id}
              row={r}
              choices={choices}
              at={open[r.id]}
              changes={waved === r.id}
              busy={!!going}
              name={(of) => devices.name(r, of)}
              look={(seconds, as) => void devices.lookAt(r, seconds, as)}
              stop={() => devices.stopOne(r)}
            />
          ))}
        </ul>
      )}
      {pictures.length > 1 && (
        <p className="mt-3">
          <button className="act" disabled={!!going} onClick={() => void devices.beside()}>
            {w.beside2}
          </button>
        </p>
      )}
      {going === w.besideNow && (
        <MatchCameras
          open={pictures
            .filter((r) => open[r.id])
            .map((r) => ({ device: open[r.id]!.device, label: r.label }))}
        />
      )}
      {sounds.length > 1 && (
        <ClapTest
          rows={sounds}
          busy={!!going}
          clap={(a, b) => void devices.clap(a, b)}
          claps={devices.claps}
        />
      )}
      {preflight && <PreflightTable preflight={preflight}>{then?.(preflight)}</PreflightTable>}
      {together && <TogetherTable together={together} />}
      {done.map((d) => (
        <Report key={d.key} of={w.from(d.label)} looked={d.looked} keep={keep} />
      ))}
    </section>
  )
}

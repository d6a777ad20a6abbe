import { lazy, type ComponentType } from 'react'

/**
 * The screens whose code comes when they are opened; those of a show are in the first script, since they are opened without a
 * connection. Once the first is drawn and nothing else is to be done, the others are fetched: none is waited for later.
 */
const loads: (() => Promise<unknown>)[] = []

function screen<K extends string>(name: K, load: () => Promise<Record<K, ComponentType>>) {
  loads.push(load)
  return lazy(async () => ({ default: (await load())[name] }))
}

export const CostsPage = screen('CostsPage', () => import('./costs/CostsPage'))
export const InspectPage = screen('InspectPage', () => import('./inspect/InspectPage'))
export const RehearsePage = screen('RehearsePage', () => import('./rehearse/RehearsePage'))
export const LogPage = screen('LogPage', () => import('./log/LogPage'))
export const LookPage = screen('LookPage', () => import('./look/LookPage'))
export const PortsPage = screen('PortsPage', () => import('./ports/PortsPage'))
export const PowerPage = screen('PowerPage', () => import('./power/PowerPage'))
export const StartRig = screen('StartRig', () => import('./rigs/StartRig'))
export const RulesPage = screen('RulesPage', () => import('./rules/RulesPage'))
export const RunPage = screen('RunPage', () => import('./run/RunPage'))
export const SendPage = screen('SendPage', () => import('./send/SendPage'))
export const ShelfPage = screen('ShelfPage', () => import('./shelf/ShelfPage'))
export const ShowPage = screen('ShowPage', () => import('./show/ShowPage'))
export const SlatePage = screen('SlatePage', () => import('./slate/SlatePage'))
export const SoundPage = screen('SoundPage', () => import('./sound/SoundPage'))
export const TetherPage = screen('TetherPage', () => import('./tether/TetherPage'))
export const RigList = screen('RigList', () => import('./rigs/RigList'))

const idle = window.requestIdleCallback ?? ((job: () => void) => setTimeout(job, 1000))
window.addEventListener('load', () =>
  idle(
    () =>
      void loads.reduce((last, load) => last.then(load), Promise.resolve<unknown>(0)).catch(() => undefined),
  ),
)

import type { State } from '../api/client'

export type Point = { x: number; y: number }

export type Strand = {
  /** The line itself; two pieces when it is parted. */
  pieces: string[]
  /** Loose ends, for a parted line. */
  frays: string[]
}

/**
 * strand draws one line between two pegs by its state alone: slack sags by the room it has, taut is straight, snapped
 * is parted with loose ends, kinked is whole with a knot in it, untested is the dotted middle way. Drawing only; the state and the room come from the core.
 */
export function strand(a: Point, b: Point, state: State, room: number): Strand {
  const span = b.x - a.x
  if (state === 'taut') return { pieces: [`M${a.x} ${a.y}L${b.x} ${b.y}`], frays: [] }
  const deepest = Math.min(22, span * 0.2)
  const sag = state === 'untested' ? deepest * 0.35 : deepest * (0.3 + 0.7 * room)
  if (state === 'kinked') return { pieces: [knotted(a, b, deepest * 0.4)], frays: [] }
  if (state !== 'snapped') return { pieces: [hang(a, b, sag)], frays: [] }
  // Parted at the middle: each end drops from its peg.
  const drop = Math.min(15, span * 0.3)
  const left = { x: a.x + span * 0.4, y: a.y + drop }
  const right = { x: b.x - span * 0.4, y: b.y + drop * 0.8 }
  return {
    pieces: [
      `M${a.x} ${a.y}C${a.x + span * 0.14} ${a.y + 2} ${left.x - 2} ${left.y - drop * 0.8} ${left.x} ${left.y}`,
      `M${b.x} ${b.y}C${b.x - span * 0.14} ${b.y + 2} ${right.x + 2} ${right.y - drop * 0.8} ${right.x} ${right.y}`,
    ],
    frays: [...fray(left, -1), ...fray(right, 1)],
  }
}

function hang(a: Point, b: Point, sag: number): string {
  const third = (b.x - a.x) / 3
  const dip = sag * (4 / 3)
  return `M${a.x} ${a.y}C${a.x + third} ${a.y + dip} ${b.x - third} ${b.y + dip} ${b.x} ${b.y}`
}

/** A line that sags a little to the knot in its middle, and goes on whole. */
function knotted(a: Point, b: Point, sag: number): string {
  const x = (a.x + b.x) / 2
  const y = (a.y + b.y) / 2 + sag
  const r = Math.min(7, (b.x - a.x) * 0.16)
  return (
    `M${a.x} ${a.y}Q${a.x + (x - a.x) * 0.6} ${y} ${x} ${y}` +
    `c${r * 1.6} 0 ${r * 1.6} ${-r * 2.2} 0 ${-r * 2.2}` +
    `c${-r * 1.9} 0 ${-r * 1.7} ${r * 3} 0 ${r * 3}` +
    `c${r * 1.2} 0 ${r * 1.5} ${-r * 0.8} ${r * 1.5} ${-r * 0.8}` +
    `Q${b.x - (b.x - x) * 0.5} ${y} ${b.x} ${b.y}`
  )
}

/** Three loose yarns at a parted end. */
function fray(at: Point, side: number): string[] {
  return [-5, 0, 5].map((dx) => `M${at.x} ${at.y}q${dx * 0.2 - side} 4 ${dx} ${8 - Math.abs(dx) * 0.3}`)
}

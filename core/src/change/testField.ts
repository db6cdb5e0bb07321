import type { CylinderField, Field } from '../field/field'
import { fixedLag } from '../field/lag/lag'
import { filled, type Table } from '../table/table'

/** A small table, and fields of known needs on it, for tests of the change. */
export const grid = { loadAxis: 'throttle' as const, rpm: [2000, 4000, 6000], load: [20, 100] }
export const table: Table = {
  ...grid,
  kind: 'fuel base',
  composition: 'multiply',
  values: [
    [10, 20, 30],
    [40, 50, 60],
  ],
}

/** A field with these changes, all with the same half interval; null is no evidence. */
export function fieldOf(
  changes: (number | null)[][],
  half = 0.2,
  held = changes.map((row) => row.map(() => false)),
  cylinder = 1,
): CylinderField {
  const at = (f: (c: number) => number) => changes.map((row) => row.map((c) => (c === null ? null : f(c))))
  return {
    cylinder,
    lambda: at((c) => 0.9 * (1 + c / 100)),
    target: changes.map((row) => row.map(() => 0.9)),
    changePct: at((c) => c),
    lowPct: at((c) => c - half),
    highPct: at((c) => c + half),
    samples: filled(grid, 50),
    passes: changes.map((row) => row.map(() => 3)),
    evidence: changes.map((row) => row.map((c) => (c === null ? 'none' : 'solid'))),
    held,
    byTrim: changes.map((row) => row.map(() => false)),
    undoPct: changes.map((row) => row.map(() => null)),
    silentPct: changes.map((row) => row.map(() => null)),
    noise: 0.01,
  }
}
/** A field of these cylinders. */
export const field = (...cylinders: CylinderField[]): Field => ({
  grid,
  method: 'solve',
  lag: fixedLag(0),
  cylinders,
  runs: [],
  heldZones: [],
  misfires: [],
})

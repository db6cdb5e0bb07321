import { correctedOn } from '../src/change/sinceMeasured'
import { suggestChange } from '../src/change/suggest'
import type { Corrected, Field } from '../src/field/field'
import { fieldOfPasses } from '../src/field/fieldOfPasses'
import { DEFAULT_FIELD_OPTIONS } from '../src/field/field'
import type { RunColumns } from '../src/run/run'
import { interpolate } from '../src/table/lookup'
import { build, type Matrix, type Table } from '../src/table/table'
import { manifoldAt, random, type KnownCase } from './knownTruthLog'

/** How a machine rides after some passes, judged where nobody measured. Percent of fuel. */
export interface Ridden {
  /** over random points inside reach, outside held zones */
  rms: number
  worst: number
  /** where the worst is */
  at: [rpm: number, load: number]
  points: number
  /** share of cells whose true need lay within the 90 % interval, over all passes: at the readings, and between */
  covered: { measured: number; bridged: number }
  cells: { measured: number; bridged: number }
  /** largest second difference along load of what is left, in the rpm of one column, and that of the truth */
  bend: { after: number; before: number }
  fields: Field[]
}

const POINTS = 5000

/**
 * Measures and corrects a base table with defaults, some passes long, and judges the mixture that is left at random points
 * between the cells that were known at the first pass.
 *
 * @param runsOf runs of a case whose truth is what is left after the passes before
 */
export function ridePasses(
  c: KnownCase,
  passes: number,
  runsOf: (left: KnownCase, pass: number) => RunColumns[],
): Ridden {
  const { grid } = c
  const found: Matrix = build(grid, () => 10)
  const tableOf = (now: Matrix): Table => ({ kind: 'fuel base', composition: 'multiply', ...grid, values: now })
  let values = found
  const left =
    (now: Matrix) =>
    (rpm: number, load: number): number =>
      c.truth(rpm, load) - Math.log(interpolate(grid, now, rpm, load) / 10)
  const fields: Field[] = []
  const earlier: { runs: RunColumns[]; corrected: Corrected[] }[] = []
  const covered = { measured: 0, bridged: 0 }
  const cells = { measured: 0, bridged: 0 }
  for (let pass = 0; pass < passes; pass++) {
    const truth = left(values)
    const runs = runsOf({ ...c, truth, seed: c.seed + 1000 * pass }, pass)
    const moved = [{ cylinder: null, then: tableOf(found), now: tableOf(values) }]
    const corrected = pass ? correctedOn(grid, moved) : []
    const correctedByPass = earlier.map((one) => one.corrected)
    const correctedBefore = pass ? [] : null
    const field = fieldOfPasses(
      runs,
      earlier.map((one) => one.runs),
      { ...DEFAULT_FIELD_OPTIONS, grid, target: c.target, corrected, correctedBefore, correctedByPass },
    )
    fields.push(field)
    earlier.push({ runs, corrected })
    const one = field.cylinders[0]!
    grid.load.forEach((load, row) =>
      grid.rpm.forEach((rpm, k) => {
        const [low, high] = [one.lowPct[row]![k], one.highPct[row]![k]]
        if (low == null || high == null || one.held[row]![k] || isNearHeld(c, rpm, load)) return
        const kind = one.evidence[row]![k] === 'bridged' ? 'bridged' : 'measured'
        const need = 100 * (Math.exp(truth(rpm, load)) - 1)
        cells[kind]++
        if (need >= low && need <= high) covered[kind]++
      }),
    )
    values = suggestChange(tableOf(values), field).values
  }
  const next = random(c.seed + 99)
  const truth = left(values)
  const first = fields[0]!.cylinders[0]!
  const known = (row: number, k: number): boolean =>
    first.evidence[row]?.[k] !== undefined && (first.evidence[row][k] !== 'none' || first.held[row]![k]!)
  let [square, worst, points] = [0, 0, 0]
  let at: [number, number] = [0, 0]
  for (let tries = 0; points < POINTS && tries < 100 * POINTS; tries++) {
    const rpm = grid.rpm[0]! + next() * (grid.rpm.at(-1)! - grid.rpm[0]!)
    const load = grid.load[0]! + next() * (grid.load.at(-1)! - grid.load[0]!)
    const k = grid.rpm.findLastIndex((one) => one <= rpm)
    const row = grid.load.findLastIndex((one) => one <= load)
    if (!known(row, k) || !known(row + 1, k) || !known(row, k + 1) || !known(row + 1, k + 1)) continue
    if (isNearHeld(c, rpm, load)) continue
    const off = 100 * (Math.exp(truth(rpm, load)) - 1)
    points++
    square += off * off
    if (Math.abs(off) > Math.abs(worst)) [worst, at] = [off, [rpm, load]]
  }
  return {
    rms: Math.sqrt(square / points),
    worst,
    at,
    points,
    covered: { measured: covered.measured / cells.measured, bridged: covered.bridged / Math.max(1, cells.bridged) },
    cells,
    bend: { after: bendOf(c, truth, known), before: bendOf(c, c.truth, known) },
    fields,
  }
}

/** Inside a held zone, or no further from it than the cells that it touches. */
function isNearHeld({ held, grid }: KnownCase, rpm: number, load: number): boolean {
  const stepRpm = grid.rpm[1]! - grid.rpm[0]!
  return held.some((zone) => {
    // Pressure at one plate is highest at the lowest speed.
    const slowest = Math.max(zone.from, rpm - stepRpm)
    const most = grid.loadAxis === 'manifold' ? manifoldAt(slowest, zone.mostLoad) : zone.mostLoad
    const above = grid.load.find((one) => one > most) ?? Infinity
    return rpm > zone.from - stepRpm && rpm < zone.to + stepRpm && load < above
  })
}

/** Largest second difference along load between neighbouring known cells, % of fuel, scaled to an even step of ten. */
function bendOf(c: KnownCase, truth: KnownCase['truth'], known: (row: number, k: number) => boolean): number {
  const { grid } = c
  let most = 0
  grid.rpm.forEach((rpm, k) => {
    for (let row = 1; row < grid.load.length - 1; row++) {
      const rows = [row - 1, row, row + 1]
      if (rows.some((one) => !known(one, k) || isNearHeld(c, rpm, c.grid.load[one]!))) continue
      const [below, here, above] = rows.map((one) => grid.load[one]!) as [number, number, number]
      const share = (here - below) / (above - below)
      const straight = truth(rpm, below) + share * (truth(rpm, above) - truth(rpm, below))
      most = Math.max(most, Math.abs(200 * (truth(rpm, here) - straight)))
    }
  })
  return most
}

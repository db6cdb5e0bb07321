import { isRefusal } from '../../refusal/refusal'
import { estimateField } from '../../field/estimate'
import { DEFAULT_FIELD_OPTIONS, type CylinderField } from '../../field/field'
import type { Filters, RunColumns } from '../../run/run'
import { locate } from '../../table/lookup'
import type { LoadGrid, Matrix } from '../../table/table'

/** How a machine runs by itself, apart from openings. */
export interface SteadyMixture {
  /** ln of lambda in steady running at an engine speed and opening; NaN where nothing is known of it */
  at(rpm: number, load: number): number
  /** how it usually moves along speed: ln lambda per 1,000 rpm, and how much that itself differs from one 1,000 rpm to the next */
  slope: number
  bend: number
}

/** s, lag that is taken: at the pace of an engine that picks up, a tenth of a second is some 30 rpm. */
const USUAL_LAG = 0.2
/** Openings at which the mixture is looked at, %. */
export const OPENINGS = [0, 5, 10, 20, 40, 60, 80, 100]
/** Share of the way to the next opening up to which one serves alone. */
const NEAR = 0.3
/** Steps of the speed, and where they begin, rpm. */
const SPEEDS = { steps: 28, from: 500 }
/** Readings that it is made of at the most, those that tell the range of speeds, and the share of these within it. */
const MOST_SAMPLES = 30_000
const MOST_SPEEDS = 10_000
const SHARE_BELOW = 0.995

/**
 * The mixture in steady running, from the readings of the same runs that are settled: an engine that picks up passes the
 * holes of its mixture, too, and that is no matter of acceleration fuel.
 *
 * @returns null where there is no such reading
 */
export function steadyMixture(runs: readonly RunColumns[], filters: Filters, lag: number | null): SteadyMixture | null {
  const read = runs.filter((run) => run.throttle && run.lambda.length > 0 && !run.handRange).map(asRead)
  const top = usualTop(read)
  if (!(top > SPEEDS.from)) return null
  const rpm = Array.from({ length: SPEEDS.steps + 1 }, (_, k) => SPEEDS.from + ((top - SPEEDS.from) * k) / SPEEDS.steps)
  const grid: LoadGrid = { loadAxis: 'throttle', rpm, load: OPENINGS }
  const levels = meanLevels(cylindersOf(read, grid, filters, lag ?? USUAL_LAG))
  // Over a thousand rpm or so: what neighbouring speeds differ by is mostly noise.
  const apart = Math.max(1, Math.round(1000 / (rpm[1]! - rpm[0]!)))
  const perThousand = 1000 / (rpm[apart]! - rpm[0]!)
  const slope = rootMeanSquare(levels.flatMap((row) => row.slice(apart).map((one, k) => (one - row[k]!) * perThousand)))
  const bend = rootMeanSquare(
    levels.flatMap((row) =>
      row.slice(2 * apart).map((one, k) => (one - 2 * row[k + apart]! + row[k]!) * perThousand ** 2),
    ),
  )
  return slope === null ? null : { at: (speed, load) => levelAt(grid, levels, speed, load), slope, bend: bend ?? slope }
}

/** Between two openings of the grid; where one of them is not known, the other serves what lies near it. */
function levelAt(grid: LoadGrid, levels: Matrix, rpm: number, load: number): number {
  const [column, across] = locate(grid.rpm, rpm)
  const [row, up] = locate(grid.load, load)
  const [below, above] = [levels[row]!, levels[row + 1]!].map(
    (one) => one[column]! * (1 - across) + one[column + 1]! * across,
  ) as [number, number]
  if (above !== above && up <= NEAR) return below
  if (below !== below && up >= 1 - NEAR) return above
  return below * (1 - up) + above * up
}

/** Speed that next to no reading lies above: a spike of the pick-up must not stretch the grid. */
function usualTop(runs: readonly RunColumns[]): number {
  const stride = Math.ceil(runs.reduce((sum, { rpm }) => sum + rpm.length, 0) / MOST_SPEEDS)
  const speeds = runs.flatMap(({ rpm }) => [...rpm.filter((one, i) => i % stride === 0 && one === one)])
  return speeds.sort((a, b) => a - b)[Math.floor(SHARE_BELOW * speeds.length)] ?? 0
}

/** Of those that are known; null where none is. */
function rootMeanSquare(values: readonly number[]): number | null {
  const known = values.filter((one) => one === one)
  return known.length ? Math.sqrt(known.reduce((sum, one) => sum + one * one, 0) / known.length) : null
}

/** What the sensor read counts, not what the tables would be short of. */
function asRead({ trimShort: _short, trimLong: _long, ...run }: RunColumns): RunColumns {
  return run
}

function cylindersOf(
  runs: readonly RunColumns[],
  grid: LoadGrid,
  filters: Filters,
  lag: number,
): readonly CylinderField[] {
  const target = grid.load.map(() => grid.rpm.map(() => 1))
  try {
    return estimateField(runs, {
      ...DEFAULT_FIELD_OPTIONS,
      grid,
      target,
      filters,
      lag,
      hasLoop: false,
      mostSamples: MOST_SAMPLES,
    }).cylinders
  } catch (error) {
    if (isRefusal(error, 'no-field')) return []
    throw error
  }
}

/** ln lambda by opening and speed, mean over the cylinders; NaN where none is known. */
function meanLevels(cylinders: readonly CylinderField[]): Matrix {
  return OPENINGS.map((_, row) =>
    Array.from({ length: SPEEDS.steps + 1 }, (_column, k) => {
      const known = cylinders.flatMap(({ changePct }) => changePct[row]![k] ?? [])
      return known.reduce((sum, one) => sum + Math.log(1 + one / 100), 0) / known.length
    }),
  )
}

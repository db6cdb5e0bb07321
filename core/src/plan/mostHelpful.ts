import type { CylinderField } from '../field/field'
import type { LoadGrid } from '../table/table'
import type { Pace } from './choice'
import { runMinutes } from './makePlan'
import { reachOf } from './reach'

/** A run that would tell something, and how much. */
export interface HelpfulRun {
  kind: 'sweep' | 'hold'
  /** row of the table it lies on */
  row: number
  load: number
  /** of a hold; null for a sweep */
  rpm: number | null
  minutes: number
  /** nodes that it bears on and that are not settled yet, and those of them without any evidence */
  nodes: number
  unknown: number
  /** percentage points of interval that it is expected to take away, weighed and summed over the nodes */
  gain: number
}

export interface HelpChoice {
  use: string | undefined
  fromRpm: number
  toRpm: number
  pace: Pace
}

/** % of change: a node known to this is settled, one without evidence is taken to be off by that. */
const SETTLED = 1
const UNKNOWN = 8
/** Half interval that the first pass through a node leaves, %, when the field does not tell. */
const AFTER_FIRST = 3
/** Passes that a hold is worth at its node: it needs no lag and is averaged. */
const HOLD_PASSES = 2
/** Rows below this (in % throttle) are idle and overrun, where the loop or the idle control rules. */
const IDLE_LOAD = 3

/**
 * What would help most next: for every stop a sweep and for every node a hold, the interval that one more run is expected
 * to take away from nodes that matter, per minute. A pass narrows an interval of n passes by sqrt(n / (n + 1)).
 *
 * Held nodes do not count, unless trims tell what they need: no run can settle them.
 *
 * @returns the best first; empty when all that matters is settled
 */
export function mostHelpful(
  grid: LoadGrid,
  cylinders: readonly CylinderField[],
  choice: HelpChoice,
  most = 5,
): HelpfulRun[] {
  const first = typicalFirst(cylinders)
  const half = (row: number, column: number): number | null =>
    Math.max(
      ...cylinders.map((one) => {
        if (one.held[row]![column] && !one.byTrim[row]![column]) return SETTLED
        const [low, high] = [one.lowPct[row]![column]!, one.highPct[row]![column]!]
        return low === null || high === null || one.evidence[row]![column] === 'none' ? UNKNOWN : (high - low) / 2
      }),
    )
  const passes = (row: number, column: number): number => Math.min(...cylinders.map((one) => one.passes[row]![column]!))
  /** Expected narrowing at a node, and what is said of it. */
  const gainAt = (row: number, column: number, worth: number): { gain: number; open: boolean; unknown: boolean } => {
    const now = Math.min(UNKNOWN, half(row, column)!)
    const unknown = now >= UNKNOWN
    const n = passes(row, column)
    const after = unknown || n === 0 ? first / Math.sqrt(worth) : now * Math.sqrt(n / (n + worth))
    const gain =
      weightOf(grid, row, column, choice) * (Math.max(SETTLED, now) - Math.max(SETTLED, Math.min(now, after)))
    return { gain, open: gain > 0, unknown: unknown && gain > 0 }
  }
  const runs: HelpfulRun[] = []
  grid.load.forEach((load, row) => {
    const { run, pause } = runMinutes('sweep', load, choice.pace)
    const along = grid.rpm.map((_, column) => gainAt(row, column, 1))
    runs.push({
      kind: 'sweep',
      row,
      load,
      rpm: null,
      minutes: run + pause,
      nodes: along.filter((one) => one.open).length,
      unknown: along.filter((one) => one.unknown).length,
      gain: along.reduce((sum, one) => sum + one.gain, 0),
    })
    const hold = runMinutes('hold', load, choice.pace)
    grid.rpm.forEach((rpm, column) => {
      const one = gainAt(row, column, HOLD_PASSES)
      runs.push({
        kind: 'hold',
        row,
        load,
        rpm,
        minutes: hold.run + hold.pause,
        nodes: one.open ? 1 : 0,
        unknown: one.unknown ? 1 : 0,
        gain: one.gain,
      })
    })
  })
  return runs
    .filter((one) => one.gain > 0.05)
    .sort((a, b) => b.gain / b.minutes - a.gain / a.minutes)
    .slice(0, most)
}

/** Half interval of the nodes with a single pass, which is what a first pass leaves in this field. */
function typicalFirst(cylinders: readonly CylinderField[]): number {
  const halves = cylinders.flatMap((one) =>
    one.passes.flatMap((row, r) =>
      row.flatMap((passes, c) => {
        const [low, high] = [one.lowPct[r]![c]!, one.highPct[r]![c]!]
        return passes === 1 && low !== null && high !== null ? [(high - low) / 2] : []
      }),
    ),
  )
  if (halves.length === 0) return AFTER_FIRST
  halves.sort((a, b) => a - b)
  return Math.min(AFTER_FIRST, halves[halves.length >> 1]!)
}

/**
 * How much a node matters: wide open because lean there breaks engines, small openings on the road because that is where
 * people ride, large ones on the track; nothing where the engine does not get to.
 */
function weightOf(grid: LoadGrid, row: number, column: number, { use, fromRpm, toRpm }: HelpChoice): number {
  const [rpm, load] = [grid.rpm[column]!, grid.load[row]!]
  const reach = grid.loadAxis === 'throttle' ? reachOf(load, { fromRpm, toRpm }) : toRpm
  if (rpm < fromRpm || rpm > reach) return 0
  const share = load / grid.load.at(-1)!
  if (100 * share <= IDLE_LOAD) return 0.1
  const ridden = (rpm - fromRpm) / (toRpm - fromRpm) < 0.7
  if (use === 'track' || use === 'strip') return share >= 0.6 ? 2 : 1
  if (share >= 0.8) return 1.5
  return share <= 0.4 && ridden ? 2 : 1
}

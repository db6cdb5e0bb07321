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
  /** half interval of those nodes in %, on average: now, and as expected after the run */
  halfNow: number
  halfAfter: number
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
/** % that a node between two known stops is taken to be off by: it can be read off its neighbours, more or less. */
const BETWEEN = 4
/** Half interval that the first pass through a node leaves, %, when the field does not tell. */
const AFTER_FIRST = 2.5
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
  const isKnown = (row: number, column: number): boolean =>
    cylinders.every(
      (one) =>
        one.evidence[row]?.[column] !== undefined &&
        one.samples[row]![column]! > 0 &&
        one.evidence[row][column] !== 'none',
    )
  const half = (row: number, column: number): number =>
    Math.max(
      ...cylinders.map((one) => {
        if (one.held[row]![column] && !one.byTrim[row]![column]) return SETTLED
        const [low, high] = [one.lowPct[row]![column]!, one.highPct[row]![column]!]
        if (low !== null && high !== null && one.evidence[row]![column] !== 'none')
          return Math.min(UNKNOWN, (high - low) / 2)
        return isKnown(row - 1, column) && isKnown(row + 1, column) ? BETWEEN : UNKNOWN
      }),
    )
  const at = (row: number, column: number, worth: number): NodeGain => {
    const now = half(row, column)
    const passes = Math.min(...cylinders.map((one) => one.passes[row]![column]!))
    const unknown = !isKnown(row, column)
    const after =
      unknown || passes === 0 ? Math.min(now, first / Math.sqrt(worth)) : now * Math.sqrt(passes / (passes + worth))
    const narrowed = Math.max(SETTLED, now) - Math.max(SETTLED, after)
    return { now, after, unknown, gain: weightOf(grid, row, column, choice) * narrowed }
  }
  /** A stop that was swept leaves nodes unknown where sweeps cannot settle: only a hold would tell there. */
  const isSwept = grid.load.map(
    (_, row) => 2 * grid.rpm.filter((_rpm, column) => isKnown(row, column)).length >= grid.rpm.length,
  )
  const runs = grid.load.flatMap((load, row) => [
    helpful(
      'sweep',
      load,
      null,
      row,
      grid.rpm.map((_, column) => at(row, column, 1)).filter((one) => !(isSwept[row] && one.unknown)),
      choice.pace,
    ),
    ...grid.rpm.map((rpm, column) => helpful('hold', load, rpm, row, [at(row, column, HOLD_PASSES)], choice.pace)),
  ])
  return runs
    .filter((one) => one.gain > 0.05)
    .sort((a, b) => b.gain / b.minutes - a.gain / a.minutes)
    .slice(0, most)
}

/** What one more run does to one node. */
interface NodeGain {
  now: number
  after: number
  unknown: boolean
  gain: number
}

function helpful(
  kind: 'sweep' | 'hold',
  load: number,
  rpm: number | null,
  row: number,
  nodes: readonly NodeGain[],
  pace: Pace,
): HelpfulRun {
  const open = nodes.filter((one) => one.gain > 0)
  const mean = (of: (one: NodeGain) => number): number =>
    open.length ? open.reduce((sum, one) => sum + of(one), 0) / open.length : SETTLED
  const { run, pause } = runMinutes(kind, load, pace)
  return {
    kind,
    row,
    load,
    rpm,
    minutes: run + pause,
    nodes: open.length,
    unknown: open.filter((one) => one.unknown).length,
    halfNow: mean((one) => one.now),
    halfAfter: mean((one) => one.after),
    gain: open.reduce((sum, one) => sum + one.gain, 0),
  }
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

import type { LoadGrid } from '../table/table'
import type { NextRun } from './candidates'
import { doubtTaken } from './doubtTaken'
import type { RangeField } from './rangeField'
import type { Wanted } from './wanted'
import { placeAt } from './rangePoints'
import { NINETY } from '../numbers/ninety'

/** A run that would tell something, and how much, in cells of the table. */
export interface HelpfulRun {
  kind: 'sweep' | 'hold'
  /** row of the table nearest to its stop */
  row: number
  load: number
  /** of a hold; null for a sweep */
  rpm: number | null
  fromRpm: number
  toRpm: number
  minutes: number
  /** cells whose interval it narrows, and those of them that are hardly known */
  nodes: number
  unknown: number
  /** half interval of those cells in %, on average: now, and as expected after the run */
  halfNow: number
  halfAfter: number
  /** percentage points of interval that it is expected to take away, summed over the cells */
  gain: number
}

/** A cell counts when its interval is narrowed by this share, and as hardly known from this half width, %. */
const NARROWED = 0.1
const HARDLY_KNOWN = 4

/** What a run would tell of the cells of the range. */
export function helpfulRun(grid: LoadGrid, known: RangeField, { rpm, load }: Wanted, run: NextRun): HelpfulRun {
  const cells = grid.rpm.flatMap((r, column) =>
    grid.load.flatMap((l, row) =>
      r >= rpm[0] && r <= rpm[1] && l >= load[0] && l <= load[1]
        ? [{ k: column * grid.load.length + row, point: placeAt(grid, r, l) }]
        : [],
    ),
  )
  const taken = doubtTaken(
    grid,
    known,
    cells.map((one) => one.point),
    run,
  )
  const halves = cells
    .map(({ k }, at) => {
      const now = known.deviation[k]! ** 2
      const percent = (variance: number): number => 100 * NINETY * Math.sqrt(variance)
      return { now: percent(now), after: percent(Math.max(0, now - taken[at]!)) }
    })
    .filter(({ now, after }) => after < (1 - NARROWED) * now)
  const sum = (of: (one: (typeof halves)[number]) => number): number =>
    halves.reduce((total, one) => total + of(one), 0)
  const mean = (of: (one: (typeof halves)[number]) => number): number => (halves.length ? sum(of) / halves.length : 0)
  const apart = grid.load.map((one) => Math.abs(one - run.load))
  return {
    ...run,
    row: apart.indexOf(Math.min(...apart)),
    rpm: run.kind === 'hold' ? run.fromRpm : null,
    nodes: halves.length,
    unknown: halves.filter((one) => one.now > HARDLY_KNOWN).length,
    halfNow: mean((one) => one.now),
    halfAfter: mean((one) => one.after),
    gain: sum((one) => one.now - one.after),
  }
}

import { screenRun, type ScreenOptions } from '../../run/screen'
import type { RunColumns } from '../../run/run'
import type { Grid, LoadAxis } from '../../table/table'
import { cellAt } from './cellAt'

/** A part of a run, s. */
export interface Span {
  from: number
  to: number
}

/** s between two readings of a cell that still are one visit. */
const ONE_VISIT = 0.5

/**
 * When a run fed each cell: visits of its counted readings, in s of the run.
 *
 * @returns `[load][rpm]` lists in their order; null of readings by hand, and where the run has no such load axis
 * @example
 * cellSpans(run, grid, { loadAxis: 'throttle', lag: 0.1, filters })?.[2][5]
 */
export function cellSpans(
  run: RunColumns,
  grid: Grid,
  options: Pick<ScreenOptions, 'lag' | 'filters'> & { loadAxis: LoadAxis },
): Span[][][] | null {
  const screened = run.handRange ? null : screenRun(run, options)
  if (!screened) return null
  const spans: Span[][][] = grid.load.map(() => grid.rpm.map(() => []))
  let visited: Span[] = []
  let left = -Infinity
  for (let i = 0; i < screened.count; i++) {
    const at = cellAt(grid, screened.rpm[i]!, screened.load[i]!)
    if (!at) continue
    const list = spans[at.row]![at.column]!
    const time = screened.time[i]!
    const last = list.at(-1)
    if (last && visited === list && time - left <= ONE_VISIT) last.to = time
    else list.push({ from: time, to: time })
    visited = list
    left = time
  }
  return spans
}

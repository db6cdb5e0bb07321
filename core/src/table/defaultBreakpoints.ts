import type { LoadAxis, LoadGrid } from './table'

const LOADS: Record<LoadAxis, number[]> = {
  throttle: [0, 2, 5, 10, 15, 20, 30, 40, 60, 80, 100],
  manifold: [20, 30, 40, 50, 60, 70, 80, 90, 100],
}

/**
 * Breakpoints to begin with where the controller's own are not known: 500 rpm steps up to the highest rpm seen (1,000
 * above 13,000), and load steps that are finer at small openings.
 */
export function defaultBreakpoints(loadAxis: LoadAxis, highestRpm: number): LoadGrid {
  const step = highestRpm > 13000 ? 1000 : 500
  const last = Math.max(3000, Math.ceil(highestRpm / step) * step)
  const rpm: number[] = []
  for (let value = 1000; value <= last; value += step) rpm.push(value)
  return { loadAxis, rpm, load: LOADS[loadAxis] }
}

import type { Grid } from '../table/table'
import { limited, onward, type Sum } from './arithmetic'
import type { ChangeLimits } from './limits'
import type { Need } from './need'

/** % beside an interval's half width, so that no row alone has the say. */
const LEAST_HALF = 0.5

/**
 * One change for all rows from high load up, at each speed: there the plate no longer rules the air. Their changes are
 * weighed by how sure they are; cells that a loop holds, that misfire or do not answer, are left out of it and alone.
 */
export function equalAbove(grid: Grid, needs: Need[][], own: (Sum | null)[][], limits: ChangeLimits): (Sum | null)[][] {
  const isUpper = (row: number): boolean => grid.load[row]! >= limits.highLoad
  const rows = grid.load.flatMap((_, row) => (isUpper(row) ? [row] : []))
  const common = grid.rpm.map((_, column) => {
    const sums = rows.flatMap((row) => {
      const sum = own[row]![column]
      return sum ? [{ change: sum.change, weight: 1 / (LEAST_HALF + needs[row]![column]!.half) ** 2 }] : []
    })
    const weight = sums.reduce((total, one) => total + one.weight, 0)
    return sums.length ? sums.reduce((total, one) => total + one.weight * one.change, 0) / weight : null
  })
  return own.map((cells, row) =>
    cells.map((sum, column) => {
      const change = common[column]!
      const { state } = needs[row]![column]!
      if (!isUpper(row) || change === null || state === 'held' || state === 'misfire' || state === 'silent') return sum
      return limited(onward('equal', change), limits, grid.load[row]!)
    }),
  )
}

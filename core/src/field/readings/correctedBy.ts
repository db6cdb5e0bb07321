import type { LoadGrid } from '../../table/table'
import type { Corrected } from '../field'

/** ln of the fuel that was added for a cylinder, by node `column * rows + row`; undefined for none. */
export function correctedBy(
  grid: LoadGrid,
  corrected: readonly Corrected[],
  cylinder: number,
): Float64Array | undefined {
  const own = corrected.filter((one) => one.cylinder === null || one.cylinder === cylinder)
  if (own.length === 0) return undefined
  return Float64Array.from(
    grid.rpm.flatMap((_, column) =>
      grid.load.map((_load, row) => own.reduce((sum, one) => sum + Math.log(one.factor[row]![column]!), 0)),
    ),
  )
}

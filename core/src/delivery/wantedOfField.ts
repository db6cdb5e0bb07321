import { needAt, servedCylinder } from '../change/need'
import type { TableSince } from '../change/sinceMeasured'
import type { Field } from '../field/field'
import { build, filled } from '../table/table'
import type { Wanted } from './wanted'

/**
 * The change that a field asks for: its estimate less what was changed since, neither shrunk nor clamped. Of several cylinders
 * with one table that which needs the most fuel counts. Cells that a closed loop holds, that misfire or do not answer, and
 * those that nothing tells of, are left out.
 *
 * @param cylinder whose field is taken; null for what all need
 * @param since fuel tables that were changed since the runs were made
 * @throws RangeError when the field has no such cylinder
 */
export function wantedOfField(field: Field, cylinder: number | null, since: readonly TableSince[]): Wanted {
  const { rpm, load, loadAxis } = field.grid
  return {
    rpm,
    load,
    loadAxis,
    pct: build(field.grid, (row, column) => {
      const need = needAt(field, servedCylinder(field, cylinder, row, column, since), since, row, column)
      return need.state === 'known' ? need.left : null
    }),
    weight: filled(field.grid, 1),
  }
}

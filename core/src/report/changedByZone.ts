import type { Moved } from '../contract/report'
import { cellChange, fuelOfCell } from '../change/applyFactor'
import { setsFuel, setsSpark } from '../table/kinds'
import type { Table } from '../table/table'

type Zone = Moved['zones'][number]['zone']

/** Zone of a load as a rider calls it; common practice: below 5 % idle, from 80 % full throttle. */
function zoneOf(axis: Table['loadAxis'], load: number): Zone {
  const [idle, full] = axis === 'throttle' ? [5, 80] : [40, 85]
  return load < idle ? 'idle' : load >= full ? 'full throttle' : 'cruise'
}

/**
 * What was changed from one state of a table to another, by zone: percent of fuel, or degrees.
 *
 * Largest by size, with its sign; typical is the mean over the cells of the zone that moved.
 */
export function changedByZone(first: Table, last: Table): Moved {
  const moved: Record<Zone, number[]> = { idle: [], cruise: [], 'full throttle': [] }
  last.values.forEach((row, r) =>
    row.forEach((value, c) => {
      const before = first.values[r]?.[c]
      // From no fuel at all there is no percent.
      if (before === undefined || value === before || (setsFuel(first) && fuelOfCell(before, first) <= 0)) return
      moved[zoneOf(last.loadAxis, last.load[r]!)].push(cellChange(before, value, first, last).size)
    }),
  )
  return {
    unit: setsSpark(last) ? '°' : '%',
    zones: (Object.keys(moved) as Zone[])
      .filter((zone) => moved[zone].length > 0)
      .map((zone) => ({
        zone,
        cells: moved[zone].length,
        largest: moved[zone].reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a)),
        typical: moved[zone].reduce((sum, one) => sum + one, 0) / moved[zone].length,
      })),
  }
}

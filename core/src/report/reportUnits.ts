import { unitOf, type Units } from '../words/units'

/** The unit that a figure of the report is written in, and its factor from the core's own. */
export function unitIn(unit: string, units: Units): { name: string; factor: number } {
  if (unit === 'kW') return unitOf('power', units)
  if (unit === 'N·m') return unitOf('torque', units)
  return { name: unit, factor: 1 }
}

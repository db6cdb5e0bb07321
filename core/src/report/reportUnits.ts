import { POWER_UNITS, TORQUE_UNITS, type PowerUnit, type TorqueUnit } from '../curves/torque/powerUnits'

/** Units that a report is written in. */
export interface ReportUnits {
  power: PowerUnit
  torque: TorqueUnit
  mixture: 'lambda' | 'AFR'
}
export const USUAL_UNITS: ReportUnits = { power: 'kW', torque: 'N·m', mixture: 'lambda' }

/** The unit that a quantity is written in, and its factor from the core's own. */
export function unitIn(unit: string, units: ReportUnits): { name: string; factor: number } {
  if (unit === 'kW') return { name: units.power, factor: POWER_UNITS[units.power] }
  if (unit === 'N·m') return { name: units.torque, factor: TORQUE_UNITS[units.torque] }
  return { name: unit, factor: 1 }
}

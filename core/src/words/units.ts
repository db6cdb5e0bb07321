import { USUAL_GAUGE_SCALE } from '../fuel/mixture'
import { plain, signed } from '../numbers/format'

/** A unit that a quantity may be told in: its factor from the core's own, and decimals that show a change worth a word. */
interface Unit {
  /** as it stands behind a figure */
  name: string
  factor: number
  digits: number
}

/**
 * Quantities that people tell in units of their own. The core counts in the first of each; hp is 550 ft·lbf/s, PS is
 * 75 kgf·m/s. AFR is shown as on the usual gauge, so it reads as people know it, whatever the fuel.
 */
export const UNITS = {
  mixture: {
    lambda: { name: 'λ', factor: 1, digits: 3 },
    AFR: { name: 'AFR', factor: USUAL_GAUGE_SCALE, digits: 2 },
  },
  torque: {
    'N·m': { name: 'N·m', factor: 1, digits: 1 },
    'lb·ft': { name: 'lb·ft', factor: 1 / 1.3558179483, digits: 1 },
  },
  power: {
    kW: { name: 'kW', factor: 1, digits: 1 },
    hp: { name: 'hp', factor: 1 / 0.745699872, digits: 1 },
    PS: { name: 'PS', factor: 1 / 0.73549875, digits: 1 },
  },
} as const satisfies Record<string, Record<string, Unit>>

/** A quantity that people tell in units of their own. */
export type ToldQuantity = keyof typeof UNITS
/** The units that one person tells them in. */
export type Units = { [Q in ToldQuantity]: keyof (typeof UNITS)[Q] }
export const USUAL_UNITS: Units = { mixture: 'lambda', torque: 'N·m', power: 'kW' }

/** The unit that somebody tells a quantity in. */
export const unitOf = (quantity: ToldQuantity, units: Units): Unit =>
  (UNITS[quantity] as Record<string, Unit>)[units[quantity]]!

/** Units as they were asked for by name, for whatever is no unit the usual one. */
export function unitsFrom(asked: Partial<Record<ToldQuantity, string | undefined>>): Units {
  const told = Object.entries(USUAL_UNITS).map(([quantity, usual]) => {
    const name = asked[quantity as ToldQuantity]
    return [quantity, name !== undefined && Object.hasOwn(UNITS[quantity as ToldQuantity], name) ? name : usual]
  })
  return Object.fromEntries(told) as Units
}

/**
 * A figure in somebody's unit, without its name.
 *
 * @param value in the core's unit
 * @example
 * figureIn('power', 10, { ...USUAL_UNITS, power: 'PS' }) // '13.6'
 */
export function figureIn(quantity: ToldQuantity, value: number, units: Units): string {
  const { factor, digits } = unitOf(quantity, units)
  return plain(value * factor, digits)
}

/** The same of a difference, with its sign. */
export function differenceIn(quantity: ToldQuantity, value: number, units: Units): string {
  const { factor, digits } = unitOf(quantity, units)
  return signed(value * factor, digits)
}

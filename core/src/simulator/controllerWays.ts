import { interpolate } from '../table/lookup'
import type { Table } from '../table/table'

/** Settings of a controller or module beside its tables, as the machine has them. */
export interface ControllerWays {
  /** a coarse percent trim whose places can be moved */
  coarse: Pick<Table, 'rpm' | 'load' | 'values'>
  /** percents of bands by rpm or opening, each passing straight into the next about an edge */
  bands: { axis: 'rpm' | 'load'; edges: number[]; values: number[]; crossover: number }
  /** percents by rpm, one list below an opening and one from it up */
  strips: { threshold: number; rpm: number[]; low: number[]; high: number[] }
  /** percent everywhere */
  global: { pct: number }
  /** rail pressure, kPa */
  pressure: { kPa: number }
}

/** Rail of a simulated machine: pressure that its injectors were measured at, and what its pump holds. */
export interface Rail {
  nominalKpa: number
  /** kPa that the pump holds with nothing flowing, and kPa that it loses for each g/s */
  pumpKpa: number
  dropPerGram: number
}

export const USUAL_RAIL: Rail = { nominalKpa: 300, pumpKpa: 380, dropPerGram: 6 }

/** Nothing set: every way as it leaves the factory. */
export const neutralWays = (rail = USUAL_RAIL): ControllerWays => ({
  coarse: {
    rpm: [2000, 9000],
    load: [10, 100],
    values: [
      [0, 0],
      [0, 0],
    ],
  },
  bands: { axis: 'rpm', edges: [4000, 7000], values: [0, 0, 0], crossover: 500 },
  strips: { threshold: 20, rpm: [2000, 9000], low: [0, 0], high: [0, 0] },
  global: { pct: 0 },
  pressure: { kPa: rail.nominalKpa },
})

/** One value of a list by rpm, straight between its speeds and flat beyond. */
function listAt(rpm: readonly number[], values: readonly number[], speed: number): number {
  if (speed <= rpm[0]!) return values[0]!
  for (let k = 1; k < rpm.length; k++) {
    if (speed > rpm[k]!) continue
    const share = (speed - rpm[k - 1]!) / (rpm[k]! - rpm[k - 1]!)
    return values[k - 1]! + share * (values[k]! - values[k - 1]!)
  }
  return values.at(-1)!
}

function bandsAt({ edges, values, crossover }: ControllerWays['bands'], x: number): number {
  let value = values[0]!
  edges.forEach((edge, k) => {
    const into = crossover > 0 ? (x - edge) / crossover + 0.5 : x >= edge ? 1 : 0
    value += Math.min(1, Math.max(0, into)) * (values[k + 1]! - values[k]!)
  })
  return value
}

/** Factor of all settings but the pressure on the fuel that the tables ask for. */
export function askedByWays({ coarse, bands, strips, global }: ControllerWays, rpm: number, plate: number): number {
  const list = plate < strips.threshold ? strips.low : strips.high
  return [
    interpolate(coarse, coarse.values, rpm, plate),
    bandsAt(bands, bands.axis === 'rpm' ? rpm : plate),
    listAt(strips.rpm, list, rpm),
    global.pct,
  ].reduce((factor, percent) => factor * (1 + percent / 100), 1)
}

/** Factor of the rail's pressure on the fuel, with a pump that holds less the more flows. @param gramsPerSecond that are asked for */
export function givenByRail({ pressure }: ControllerWays, rail: Rail, gramsPerSecond: number): number {
  const held = Math.min(pressure.kPa, rail.pumpKpa - rail.dropPerGram * gramsPerSecond)
  return Math.sqrt(Math.max(0, held) / rail.nominalKpa)
}

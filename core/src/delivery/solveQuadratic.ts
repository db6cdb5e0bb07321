import quadprog from 'quadprog'
import type { Banded } from '../numbers/banded'

/** Settings that a sum of must not fall below a floor: `[setting, share]` of each. */
export interface Floor {
  of: readonly (readonly [setting: number, share: number])[]
  least: number
}

/**
 * The step d that makes d'Hd / 2 - f'd least while the settings after it keep their floors.
 *
 * @param fall f, the way down
 * @throws RangeError when no settings can keep all floors
 * @see Goldfarb and Idnani 1983, "A numerically stable dual method for solving strictly convex quadratic programs"; solved by
 * the package quadprog
 */
export function solveQuadratic(
  { size, width, data }: Banded,
  fall: Float64Array,
  settings: Float64Array,
  floors: readonly Floor[],
): Float64Array {
  // The package counts from one, and takes constraints by column.
  const bend = [[], ...Array.from({ length: size }, () => Array.from({ length: size + 1 }, () => 0))] as number[][]
  for (let i = 0; i < size; i++)
    for (let j = Math.max(0, i - width); j <= i; j++)
      bend[i + 1]![j + 1] = bend[j + 1]![i + 1] = data[i * (width + 1) + width - (i - j)]!
  const rows = [
    [],
    ...Array.from({ length: size }, () => Array.from({ length: floors.length + 1 }, () => 0)),
  ] as number[][]
  const least = [0]
  floors.forEach(({ of, least: floor }, k) => {
    let now = 0
    for (const [setting, share] of of) {
      rows[setting + 1]![k + 1]! += share
      now += share * settings[setting]!
    }
    least.push(floor - now)
  })
  const { solution, message } = quadprog.solveQP(bend, [0, ...fall], rows, least)
  if (message) throw new RangeError(`No settings keep what must be kept: ${message}`)
  return Float64Array.from(solution.slice(1))
}

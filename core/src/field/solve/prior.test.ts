import type { Banded } from '../../numbers/banded'
import type { LoadGrid } from '../../table/table'
import { loadScale, priorPrecision, sharedPrecision } from './prior'

const grid: LoadGrid = { loadAxis: 'manifold', rpm: [2000, 3000, 5000], load: [25, 50, 62.5, 100, 125] }
const LEVEL = 0.15 ** 2

/** x' P x: what a field costs. */
function cost(precision: Banded, x: readonly number[]): number {
  const stride = precision.width + 1
  return x.reduce((sum, here, k) => {
    for (let other = Math.max(0, k - precision.width); other <= k; other++)
      sum += (other < k ? 2 : 1) * precision.data[k * stride + precision.width - (k - other)]! * here * x[other]!
    return sum
  }, 0)
}
/** A field by thousands of rpm and units of load, less the cost of its level. */
function costOf(
  strengths: { rpm?: number; load?: number; third?: number },
  f: (r: number, l: number) => number,
): number {
  const x = grid.rpm.flatMap((rpm) => loadScale(grid).map((load) => f(rpm / 1000, load)))
  const of = (all: object): number => cost(priorPrecision(grid, { rpm: 0, load: 0, third: 0, ...all }), x)
  return of(strengths) - of({})
}

describe('what a field costs before anything is measured', () => {
  it('goes by its bends and slopes squared, over the area of the table, wherever its breakpoints lie', () => {
    // A slope of 2 over 3 by 4 units, remembered over two.
    expect(costOf({ load: 10 }, (_r, l) => 2 * l)).toBeCloseTo((10 * 2 ** 2 * 12) / 2 ** 2, 9)
    expect(costOf({ rpm: 10 }, (r) => 2 * r)).toBeCloseTo((10 * 2 ** 2 * 12) / 2 ** 2, 9)
    expect(costOf({ load: 10 }, (r) => r * r)).toBeCloseTo(0, 9)
  })
  it('of how bends change along load knows no bend that stays, and squares one that does not', () => {
    expect(costOf({ third: 7 }, (r, l) => 1 + l - 3 * l * l + r * l)).toBeCloseTo(0, 9)
    // The third derivative of l^3 is 6; the middle of bends at two points moves as their breakpoints do.
    const even: LoadGrid = { ...grid, load: [25, 50, 75, 100, 125] }
    const x = even.rpm.flatMap(() => loadScale(even).map((l) => l ** 3))
    const of = (third: number): number => cost(priorPrecision(even, { rpm: 0, load: 0, third }), x)
    // Two of its four steps lie between bends.
    expect(of(7) - of(0)).toBeCloseTo(7 * 6 ** 2 * 3 * 2, 6)
    expect(costOf({ third: 7 }, (_r, l) => l ** 3)).toBeGreaterThan(7 * 6 ** 2 * 3)
  })
  it('of its level is one at one deviation, and of a part that all speeds share, too', () => {
    const flat = (count: number): number[] => Array.from({ length: count }, () => 1)
    expect(cost(priorPrecision(grid, { rpm: 3, load: 4, third: 5 }), flat(15))).toBeCloseTo(1 / LEVEL, 9)
    expect(cost(sharedPrecision(grid, { shared: 4 }), flat(5))).toBeCloseTo(1 / LEVEL, 9)
  })
  it('needs three points for a bend and four for its change', () => {
    const small: LoadGrid = { ...grid, load: [25, 50, 100] }
    const x = Array.from({ length: 9 }, (_, k) => Math.sin(k))
    const of = (third: number): number => cost(priorPrecision(small, { rpm: 1, load: 1, third }), x)
    expect(of(100)).toBe(of(0))
  })
})

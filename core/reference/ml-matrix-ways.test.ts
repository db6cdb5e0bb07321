/**
 * Source: ml-matrix (npm), a general linear algebra library: quadratic programs by trying every set of floors that may hold, bilinear
 * interpolation as a product of matrices, and a coarse table by plain weighted least squares where nothing is lean; and a
 * general direct search for bands with a crossover. The orifice law and the duty of an injector are worked out by hand (Heywood,
 * Internal Combustion Engine Fundamentals, ch. 7, from memory: flow goes as the root of the pressure across an orifice).
 */
import { Matrix, solve } from 'ml-matrix'
import { fitBands, givenByBands } from '../src/delivery/bands'
import { fitTable, givenByTable } from '../src/delivery/fitTable'
import { dutyPct, pulseFactor, rescaledPulse, sameFuelTable } from '../src/delivery/injectors'
import { givenAt, leftOf } from '../src/delivery/left'
import { pointsOf } from '../src/delivery/points'
import { factorOfPressure, pressureFor } from '../src/delivery/pressure'
import { solveQuadratic } from '../src/delivery/solveQuadratic'
import { HIGH_LOAD, type Wanted } from '../src/delivery/wanted'
import { addAt, banded } from '../src/numbers/banded'
import { seededRandom } from '../src/numbers/random'
import { interpolate } from '../src/table/lookup'

/** Every subset of some numbers. */
const subsets = (count: number): number[][] =>
  Array.from({ length: 2 ** count }, (_, bits) => [...Array(count).keys()].filter((k) => (bits >> k) & 1))

it('a quadratic program under floors is the best of all sets of floors that may hold', () => {
  for (let seed = 1; seed <= 30; seed++) {
    const { normal } = seededRandom(seed)
    const size = 3
    const root = Matrix.zeros(size, size).apply(function (this: Matrix, i: number, j: number) {
      this.set(i, j, normal())
    })
    const bend = root.mmul(root.transpose()).add(Matrix.eye(size, size))
    const fall = Float64Array.from({ length: size }, normal)
    const rows = Array.from({ length: 4 }, () => Array.from({ length: size }, normal))
    // Nought keeps every floor.
    const least = rows.map(() => -Math.abs(normal()) * 0.3)
    let best = { cost: Infinity, step: [] as number[] }
    for (const held of subsets(rows.length).filter((one) => one.length <= size)) {
      const whole = Matrix.zeros(size + held.length, size + held.length)
      whole.setSubMatrix(bend, 0, 0)
      held.forEach((row, k) =>
        rows[row]!.forEach((value, i) => {
          whole.set(size + k, i, value)
          whole.set(i, size + k, value)
        }),
      )
      const right = Matrix.columnVector([...fall, ...held.map((row) => least[row]!)])
      const step = solve(whole, right).to1DArray().slice(0, size)
      const keeps = rows.every((row, k) => row.reduce((sum, value, i) => sum + value * step[i]!, 0) >= least[k]! - 1e-9)
      const d = Matrix.columnVector(step)
      const cost =
        d.transpose().mmul(bend).mmul(d).get(0, 0) / 2 - step.reduce((sum, one, i) => sum + one * fall[i]!, 0)
      if (keeps && cost < best.cost) best = { cost, step }
    }
    const own = banded(size, size - 1)
    for (let i = 0; i < size; i++) for (let j = 0; j <= i; j++) addAt(own, i, j, bend.get(i, j))
    const floors = rows.map((row, k) => ({ of: row.map((share, i) => [i, share] as const), least: least[k]! }))
    const found = solveQuadratic(own, fall, new Float64Array(size), floors)
    best.step.forEach((one, i) => expect(found[i]).toBeCloseTo(one, 8))
  }
})

const rpm = [1500, 2800, 4000, 5200, 6400, 7600, 9000]
const load = [5, 15, 30, 50, 75, 100]
const rising = (seed: number): Wanted => {
  const { uniform } = seededRandom(seed)
  const [a, b, c] = [uniform(), uniform(), uniform()]
  const pct = load.map((y) => rpm.map((x) => 3 + 4 * a * Math.sin(x / (900 + 800 * b)) + (5 * c * y) / 100))
  return { rpm, load, loadAxis: 'throttle', pct, weight: load.map(() => rpm.map(() => 1)) }
}

it('bands with a crossover cost what a direct search comes to, to 0.05 %', () => {
  for (let seed = 1; seed <= 4; seed++) {
    const wanted = rising(seed)
    const points = pointsOf(wanted)
    const asked = { axis: 'rpm' as const, bands: 3, edges: [3700, 6600], crossover: 900 }
    const cost = (values: readonly number[]): number => {
      const given = givenByBands({ ...asked, values })
      const isLean = wanted.pct.some((cells, row) =>
        cells.some(
          (pct, k) => load[row]! >= HIGH_LOAD && (1 + pct! / 100) / given(rpm[k]!, load[row]!) - 1 > 0.02 + 1e-9,
        ),
      )
      return isLean ? Infinity : leftOf(points, givenAt(points, given)).costPct
    }
    // A pattern search along the axes and both diagonals of each pair; it may not come better than the program.
    let [best, least] = [[15, 15, 15], cost([15, 15, 15])]
    const ways = [-1, 0, 1].flatMap((x) => [-1, 0, 1].flatMap((y) => [-1, 0, 1].map((z) => [x, y, z])))
    for (let step = 4; step > 1e-4; step /= 2)
      for (let moved = true; moved;) {
        moved = false
        for (const way of ways) {
          const tried = best.map((one, i) => one + step * way[i]!)
          const costs = cost(tried)
          if (costs < least) [best, least, moved] = [tried, costs, true]
        }
      }
    const { ruled } = fitBands(wanted, asked)
    expect(cost(ruled.values)).toBeLessThanOrEqual(least * 1.0005)
  }
})

it('a table straight between breakpoints is a product of matrices of hats', () => {
  const [speeds, openings] = [
    [2000, 4000, 9000],
    [10, 60],
  ]
  const values = [
    [1, 4, -2],
    [3, 0, 7],
  ]
  const hat = (points: readonly number[], x: number): number[] => {
    const inside = Math.min(points.at(-1)!, Math.max(points[0]!, x))
    return points.map((at, k) => {
      const [before, after] = [points[k - 1], points[k + 1]]
      if (inside <= at && before !== undefined) return Math.max(0, (inside - before) / (at - before))
      if (inside >= at && after !== undefined) return Math.max(0, (after - inside) / (after - at))
      return inside === at ? 1 : 0
    })
  }
  for (const [x, y] of [
    [2500, 22],
    [8000, 60],
    [1000, 5],
    [9500, 99],
    [4000, 35],
  ] as const) {
    const product = new Matrix([hat(openings, y)]).mmul(new Matrix(values)).mmul(Matrix.columnVector(hat(speeds, x)))
    expect(interpolate({ rpm: speeds, load: openings }, values, x, y)).toBeCloseTo(product.get(0, 0), 12)
  }
})

it('values of a coarse table leave what no nudge of any of them betters', () => {
  const wanted = rising(9)
  const points = pointsOf(wanted)
  const table = fitTable(points, { rpm: [1500, 4500, 9000], load: [5, 50, 100] })
  const cost = (values: number[][]): number =>
    leftOf(points, givenAt(points, givenByTable({ ...table, values }))).costPct
  const own = cost(table.values)
  table.values.forEach((cells, row) =>
    cells.forEach((value, column) => {
      for (const by of [-0.02, 0.02]) {
        const nudged = table.values.map((line) => [...line])
        nudged[row]![column] = value + by
        expect(cost(nudged)).toBeGreaterThanOrEqual(own)
      }
    }),
  )
})

it('pressure: 5 % more fuel from 300 kPa over a manifold at 100 wants 320.5 kPa, by hand', () => {
  // (300 - 100) x 1.05^2 = 220.5, and 100 on top.
  expect(pressureFor(1.05, 300, 100)).toBeCloseTo(320.5, 12)
  expect(factorOfPressure(320.5, 300, 100)).toBeCloseTo(1.05, 12)
  // Four times the pressure across it, twice the flow.
  expect(factorOfPressure(400, 100)).toBeCloseTo(2, 12)
})

it('injectors: pulse and duty by hand', () => {
  // 200 to 250 at 300 to 300 kPa: 4/5, 3 % richer 0.824; 4.8 ms of which 4 are open: 3.296 and 1 ms of dead time.
  const swap = { from: { flow: 200, deadMs: 0.8 }, to: { flow: 250, deadMs: 1 }, kPaFrom: 300, kPaTo: 300 }
  expect(pulseFactor(swap)).toBeCloseTo(0.824, 12)
  expect(rescaledPulse(4.8, swap)).toBeCloseTo(4.296, 12)
  expect(pulseFactor({ ...swap, kPaTo: 1200 })).toBeCloseTo(0.412, 12)
  // Two turns at 6,000 rpm take 20 ms.
  expect(dutyPct(10, 6000)).toBe(50)
  const pulses = {
    kind: 'fuel base' as const,
    composition: 'multiply' as const,
    loadAxis: 'throttle' as const,
    rpm: [1, 2],
    load: [1, 2],
    values: [
      [4.8, 0],
      [4.8, 0.5],
    ],
  }
  expect(sameFuelTable(pulses, swap).values).toEqual([
    [expect.closeTo(4.2, 12), 0],
    [expect.closeTo(4.2, 12), 0.5],
  ])
})

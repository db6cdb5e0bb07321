/**
 * Source: ml-matrix (npm), a general linear algebra library. The banded factor, the bilinear weights and the regularised
 * normal equations are checked against dense algebra. Tolerance 1e-9 relative: double precision, well conditioned.
 */
import { Matrix, CholeskyDecomposition, solve } from 'ml-matrix'
import { addAt, banded, cholesky, forwardAll, solveFactored } from '../src/numbers/banded'
import { dotFour } from '../src/numbers/dot'
import { place, valueAt } from '../src/field/readings/placement'
import { addSmoothness, curvatures } from '../src/field/solve/smoothness'
import { DEFAULT_SOLVE, solveField } from '../src/field/solve/solve'
import { interpolate } from '../src/table/lookup'
import { random } from '../trials/knownTruthLog'

const grid = { rpm: [1000, 1500, 2500, 3000, 5000], load: [0, 10, 20, 50, 100] }
const SIZE = 25

/** A well-conditioned matrix with a band, and the same dense. */
function bandAndDense(size: number, width: number, seed: number) {
  const next = random(seed)
  const band = banded(size, width)
  const dense = Matrix.zeros(size, size)
  for (let row = 0; row < size; row++) {
    for (let column = Math.max(0, row - width); column <= row; column++) {
      const value = row === column ? 10 + next() : next() - 0.5
      addAt(band, row, column, value)
      dense.set(row, column, value)
      dense.set(column, row, value)
    }
  }
  return { band, dense, next }
}

// What is worked four at a time has ends of its own: sizes and widths on either side of them.
it.each([
  [40, 6],
  [1, 0],
  [5, 4],
  [9, 8],
  [13, 3],
  [30, 11],
  [60, 28],
  [61, 29],
])('banded Cholesky of %d rows, %d beside the diagonal, solves as the dense one', (size, width) => {
  const { band, dense, next } = bandAndDense(size, width, 5 + size)
  const b = Array.from({ length: size }, () => next())
  const mine = solveFactored(cholesky(band), Float64Array.from(b))
  const theirs = new CholeskyDecomposition(dense).solve(Matrix.columnVector(b)).to1DArray()
  mine.forEach((value, k) => expect(value).toBeCloseTo(theirs[k]!, 9))
})

it.each([1, 2, 3, 4, 5, 9])('%d right sides at a time are solved as each by the dense factor', (count) => {
  const { band, dense, next } = bandAndDense(21, 7, 31)
  const from = Array.from({ length: count }, (_, g) => (5 * g) % 17)
  const many = from.map((first) => Float64Array.from({ length: 21 }, (_, k) => (k < first ? 0 : next())))
  const before = many.map((b) => [...b])
  const lower = new CholeskyDecomposition(dense).lowerTriangularMatrix
  const mine = forwardAll(cholesky(band), many, from)
  mine.forEach((x, g) => {
    const theirs = solve(lower, Matrix.columnVector(before[g]!)).to1DArray()
    x.forEach((value, k) => expect(value).toBeCloseTo(theirs[k]!, 9))
    expect([...many[g]!]).toEqual(before[g])
  })
})

it('products with four at a time are those of each', () => {
  const next = random(3)
  const list = (): Float64Array => Float64Array.from({ length: 11 }, () => next())
  const a = list().fill(0, 0, 3)
  const others = [list(), list(), list(), list()]
  const each = others.map((b) => Matrix.rowVector([...a]).dot(Matrix.rowVector([...b])))
  for (const count of [1, 2, 3, 4])
    expect(dotFour(a, others.slice(0, count), 3).slice(0, count)).toEqual(
      each.slice(0, count).map((one) => expect.closeTo(one, 12) as number),
    )
})

it('a matrix that is not positive definite is refused', () => {
  const band = banded(2, 1)
  addAt(band, 0, 0, 1)
  addAt(band, 1, 0, 2)
  addAt(band, 1, 1, 1)
  expect(() => cholesky(band)).toThrow(RangeError)
})

it('bilinear weights reproduce any field that is bilinear between nodes', () => {
  const next = random(9)
  const values = grid.load.map(() => grid.rpm.map(() => next()))
  const rpm = Float32Array.from({ length: 500 }, () => 900 + 4400 * next())
  const load = Float32Array.from({ length: 500 }, () => -5 + 110 * next())
  const p = place(grid, rpm, load)
  const x = new Float64Array(SIZE)
  values.forEach((cells, row) => cells.forEach((value, column) => (x[column * 5 + row] = value)))
  rpm.forEach((r, i) => expect(valueAt(p, x, i)).toBeCloseTo(interpolate(grid, values, r, load[i]!), 5))
})

const count = 400
/** Readings anywhere on the grid; a tenth of them far off where it is asked. */
function readings(seed: number, isRough: boolean) {
  const next = random(seed)
  const rpm = Float32Array.from({ length: count }, () => 1000 + 4000 * next())
  const load = Float32Array.from({ length: count }, () => 100 * next())
  const y = Float32Array.from(rpm, (r) =>
    isRough ? 0.05 * Math.sin(r / 700) + (next() < 0.1 ? 0.2 * next() : 0.02 * (next() - 0.5)) : next() - 0.5,
  )
  return { p: place(grid, rpm, load), y }
}
/** Weighted and regularised least squares by dense algebra. */
function denseSolve(
  p: ReturnType<typeof place>,
  y: Float32Array,
  weight: Float32Array,
  options: Pick<typeof DEFAULT_SOLVE, 'alpha' | 'beta' | 'epsilon'>,
): number[] {
  const a = Matrix.zeros(count, SIZE)
  for (let i = 0; i < count; i++) {
    const k = p.node[i]!
    const u = p.across[i]!
    const v = p.up[i]!
    a.set(i, k, (1 - u) * (1 - v))
    a.set(i, k + 1, (1 - u) * v)
    a.set(i, k + 5, u * (1 - v))
    a.set(i, k + 6, u * v)
  }
  const weighted = a.transpose().mulRowVector([...weight])
  const normal = weighted.mmul(a)
  const unit = normal.diagonal().reduce((sum, d) => sum + d, 0) / SIZE
  const { rpm: alongRpm, load: alongLoad } = curvatures(grid)
  for (const [rows, strength] of [
    [alongRpm, options.alpha],
    [alongLoad, options.beta],
  ] as const) {
    for (const { nodes, weights } of rows) {
      const d = Matrix.zeros(1, SIZE)
      nodes.forEach((node, k) => d.set(0, node, weights[k]!))
      normal.add(
        d
          .transpose()
          .mmul(d)
          .mul(strength * unit),
      )
    }
  }
  normal.add(Matrix.eye(SIZE).mul(options.epsilon * unit))
  return solve(normal, weighted.mmul(Matrix.columnVector([...y]))).to1DArray()
}

it('the least-squares solve is the dense solution of the same normal equations', () => {
  const { p, y } = readings(3, false)
  const options = { alpha: 0.01, beta: 0.02, epsilon: 1e-4, startRounds: 0, endRounds: 0 }
  const theirs = denseSolve(p, y, new Float32Array(count).fill(1), options)
  solveField(grid, p, y, options).x.forEach((value, k) => expect(value).toBeCloseTo(theirs[k]!, 7))
})

it.each([1, 2, 3, 4])('the robust rounds end where one more would move nothing, seed %i', (seed) => {
  const { p, y } = readings(seed, true)
  const { x, weight } = solveField(grid, p, y)
  expect(weight.filter((one) => one === 0).length).toBeGreaterThan(0.02 * count)
  const theirs = denseSolve(p, y, weight, DEFAULT_SOLVE)
  // A hundredth of a percent: what is called settled, and no more than a gauge shows.
  x.forEach((value, k) => expect(Math.abs(value - theirs[k]!)).toBeLessThan(1e-4))
})

it('second differences cost a straight line nothing on uneven breakpoints', () => {
  const m = banded(SIZE, 10)
  const { rpm, load } = curvatures(grid)
  addSmoothness(m, rpm, 1)
  addSmoothness(m, load, 1)
  const plane = grid.rpm.flatMap((r) => grid.load.map((l) => 3 + 0.002 * r - 0.01 * l))
  let cost = 0
  for (let row = 0; row < SIZE; row++) {
    for (let column = Math.max(0, row - 10); column <= Math.min(SIZE - 1, row + 10); column++) {
      const high = Math.max(row, column)
      cost += plane[row]! * plane[column]! * m.data[high * 11 + 10 - (high - Math.min(row, column))]!
    }
  }
  expect(Math.abs(cost)).toBeLessThan(1e-9)
})

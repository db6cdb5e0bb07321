/**
 * Source: ml-matrix (npm), a general linear algebra library. The banded factor, the bilinear weights and the regularised
 * normal equations are checked against dense algebra. Tolerance 1e-9 relative: double precision, well conditioned.
 */
import { Matrix, CholeskyDecomposition, solve } from 'ml-matrix'
import { addAt, banded, cholesky, solveFactored } from '../src/numbers/banded'
import { place, valueAt } from '../src/field/placement'
import { addSmoothness, curvatures } from '../src/field/smoothness'
import { solveField } from '../src/field/solve'
import { interpolate } from '../src/table/lookup'
import { random } from './knownTruthLog'

const grid = { rpm: [1000, 1500, 2500, 3000, 5000], load: [0, 10, 20, 50, 100] }
const SIZE = 25

it('banded Cholesky solves as the dense one', () => {
  const next = random(5)
  const size = 40
  const width = 6
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
  const b = Array.from({ length: size }, () => next())
  const mine = solveFactored(cholesky(band), Float64Array.from(b))
  const theirs = new CholeskyDecomposition(dense).solve(Matrix.columnVector(b)).to1DArray()
  mine.forEach((value, k) => expect(value).toBeCloseTo(theirs[k]!, 9))
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

it('the least-squares solve is the dense solution of the same normal equations', () => {
  const next = random(3)
  const count = 400
  const rpm = Float32Array.from({ length: count }, () => 1000 + 4000 * next())
  const load = Float32Array.from({ length: count }, () => 100 * next())
  const y = Float32Array.from({ length: count }, () => next() - 0.5)
  const p = place(grid, rpm, load)
  const options = { alpha: 0.01, beta: 0.02, epsilon: 1e-4, startRounds: 0, endRounds: 0 }
  const mine = solveField(grid, p, y, options).x

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
  const normal = a.transpose().mmul(a)
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
  const theirs = solve(normal, a.transpose().mmul(Matrix.columnVector([...y]))).to1DArray()
  mine.forEach((value, k) => expect(value).toBeCloseTo(theirs[k]!, 7))
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

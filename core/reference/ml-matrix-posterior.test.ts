/**
 * The posterior of a field against the same mixed model computed densely by ml-matrix 6: mean, levels of runs, variances
 * and likelihood (Rasmussen and Williams, Gaussian Processes for Machine Learning, 2006, ch. 2); the restricted
 * likelihood of a balanced one-way layout against its closed form (Searle, Casella and McCulloch, Variance Components,
 * 1992, ch. 3, from memory).
 */
import { determinant, inverse, Matrix } from 'ml-matrix'
import { condition, conditionField, conditionLevels } from '../src/field/solve/conditioned'
import { stretchesOf, sumOverNodes } from '../src/field/solve/nodeSums'
import { place } from '../src/field/readings/placement'
import { priorPrecision, sharedPrecision } from '../src/field/solve/prior'
import type { Samples } from '../src/field/readings/samples'
import { addAt, banded, cholesky, type Banded } from '../src/numbers/banded'
import { diagonal, logDeterminant, selectedInverse } from '../src/numbers/selectedInverse'
import type { LoadGrid } from '../src/table/table'
import { normal, random } from '../trials/knownTruthLog'

const grid: LoadGrid = { loadAxis: 'throttle', rpm: [2000, 2500, 4000, 6000], load: [5, 20, 100] }
const size = 12

/** Readings of three runs over the grid, with weights. */
function readings(seed: number, count = 90) {
  const next = random(seed)
  const of = (f: (i: number) => number): Float32Array => Float32Array.from({ length: count }, (_, i) => f(i))
  const rpm = of(() => 2000 + 4000 * next())
  const load = of(() => 5 + 95 * next())
  const run = Uint16Array.from({ length: count }, (_, i) => Math.floor((3 * i) / count))
  const y = of((i) => 0.05 + 0.00001 * (rpm[i]! - 3000) + 0.01 * run[i]! + 0.01 * normal(next))
  const weight = of(() => 0.2 + 0.8 * next())
  const samples = { count, time: of((i) => i / 50), rpm, load, run } as unknown as Samples
  return { samples, placement: place(grid, rpm, load), y, weight }
}

const dense = (m: Banded): Matrix =>
  new Matrix(
    Array.from({ length: m.size }, (_, r) =>
      Array.from({ length: m.size }, (_c, c) => {
        const [low, high] = [Math.min(r, c), Math.max(r, c)]
        return high - low > m.width ? 0 : m.data[high * (m.width + 1) + m.width - (high - low)]!
      }),
    ),
  )

const READING = 2e-4
const LEVEL = 1e-4

describe.each([1, 2, 3])('a posterior against a dense mixed model, seed %i', (seed) => {
  const { samples, placement, y, weight } = readings(seed)
  const precision = priorPrecision(grid, { rpm: 300, load: 900, third: 500 })
  const prior = { precision, logDeterminant: logDeterminant(cholesky(precision)) }
  const sums = sumOverNodes(placement, y, weight, stretchesOf(samples))
  const mine = condition(sums, prior, { reading: READING, level: LEVEL })

  // The same as one Gaussian over readings: y ~ N(0, B K^-1 B' + Z Z' level + diag(reading / weight)).
  const b = Matrix.zeros(samples.count, size)
  const z = Matrix.zeros(samples.count, 3)
  for (let i = 0; i < samples.count; i++) {
    const [k, u, v] = [placement.node[i]!, placement.across[i]!, placement.up[i]!]
    const at = [k, k + 1, k + placement.loads, k + placement.loads + 1]
    const shares = [(1 - u) * (1 - v), (1 - u) * v, u * (1 - v), u * v]
    at.forEach((node, j) => b.set(i, node, shares[j]!))
    z.set(i, samples.run[i]!, 1)
  }
  const field = inverse(dense(precision))
  const noise = Matrix.diag(Array.from(weight, (w) => READING / w))
  const spread = Matrix.add(Matrix.add(b.mmul(field).mmul(b.transpose()), z.mmul(z.transpose()).mul(LEVEL)), noise)
  const solved = inverse(spread)
  const given = Matrix.columnVector(Array.from(y))

  it('has its mean and the levels of its runs', () => {
    const mean = field.mmul(b.transpose()).mmul(solved).mmul(given).to1DArray()
    mean.forEach((value, k) => expect(mine.x[k]).toBeCloseTo(value, 8))
    const levels = z.transpose().mul(LEVEL).mmul(solved).mmul(given).to1DArray()
    levels.forEach((value, g) => expect(mine.levels[g]).toBeCloseTo(value, 8))
  })
  it('has its variances, by the elements of the inverse inside the band', () => {
    const cross = b.mmul(field)
    const variance = Matrix.sub(field, cross.transpose().mmul(solved).mmul(cross)).diagonal()
    const plain = diagonal(selectedInverse(mine.factor))
    const levels = inverse(denseFromFactor(mine.levelFactor))
    variance.forEach((value, k) => {
      const pull = Matrix.rowVector(mine.pull.map((one) => one[k]!))
      const own = plain[k]! + pull.mmul(levels).mmul(pull.transpose()).get(0, 0)
      expect(own / value).toBeCloseTo(1, 7)
    })
  })
  it('has its likelihood, but for what no scale changes', () => {
    const deviance = (reading: number, level: number): number => {
      const all = Matrix.add(
        Matrix.add(b.mmul(field).mmul(b.transpose()), z.mmul(z.transpose()).mul(level)),
        Matrix.diag(Array.from(weight, (w) => reading / w)),
      )
      // Scaled, so that the determinant of 90 small numbers does not underflow.
      return Math.log(determinant(Matrix.mul(all, 1e4))) + given.transpose().mmul(inverse(all)).mmul(given).get(0, 0)
    }
    // Weights below one stand for fewer readings: the determinant of the noise goes by their sum in the posterior.
    const missing = (reading: number): number => (samples.count - sums.weight) * Math.log(reading)
    const [r2, l2] = [3 * READING, 0.2 * LEVEL]
    const theirs = deviance(r2, l2) - missing(r2) - (deviance(READING, LEVEL) - missing(READING))
    const own = condition(sums, prior, { reading: r2, level: l2 }).deviance - mine.deviance
    expect(own).toBeCloseTo(theirs, 6)
    // One field serves levels of any spread, whichever was asked before.
    const unlevelled = conditionField(sums, prior, r2)
    conditionLevels(unlevelled, 9 * LEVEL)
    expect(conditionLevels(unlevelled, l2).deviance - mine.deviance).toBeCloseTo(theirs, 6)
  })
  it('the elements of an inverse inside the band are those of the dense inverse', () => {
    const band = selectedInverse(cholesky(precision))
    const whole = inverse(dense(precision))
    for (let r = 0; r < size; r++)
      for (let c = Math.max(0, r - precision.width); c <= r; c++)
        expect(band.data[r * (precision.width + 1) + precision.width - (r - c)]! / whole.get(r, c)).toBeCloseTo(1, 7)
  })
})

describe('a prior whose field lies about a part that all speeds share, against the same dense sum of both', () => {
  const { samples, placement, y, weight } = readings(4)
  const sums = sumOverNodes(placement, y, weight, stretchesOf(samples))
  const known = (precision: Banded) => ({ precision, logDeterminant: logDeterminant(cholesky(precision)) })
  const rows = grid.load.length
  // Every node of a row moves with it.
  const spread = new Matrix(
    Array.from({ length: size }, (_, k) => Array.from({ length: rows }, (_r, row) => (k % rows === row ? 1 : 0))),
  )
  const both = (shared: number): { mine: ReturnType<typeof condition>; variance: Matrix } => {
    const own = {
      field: priorPrecision(grid, { rpm: 300, load: 9000, third: 0 }),
      rows: sharedPrecision(grid, { shared }),
    }
    const prior = { ...known(own.field), shared: known(own.rows) }
    const ofRows = spread.mmul(inverse(dense(own.rows))).mmul(spread.transpose())
    return {
      mine: condition(sums, prior, { reading: READING, level: LEVEL }),
      variance: Matrix.add(inverse(dense(own.field)), ofRows),
    }
  }
  // The same sum as a precision, so that the plain posterior tells what comes of it.
  const plainly = (variance: Matrix): ReturnType<typeof condition> => {
    const precision = inverse(variance)
    const whole = banded(size, size - 1)
    for (let r = 0; r < size; r++) for (let c = 0; c <= r; c++) addAt(whole, r, c, precision.get(r, c))
    const normal = banded(size, size - 1)
    const all = dense(sums.normal)
    for (let r = 0; r < size; r++) for (let c = 0; c <= r; c++) addAt(normal, r, c, all.get(r, c))
    return condition({ ...sums, normal }, known(whole), { reading: READING, level: LEVEL })
  }
  it.each([100, 1000])('at a strength of %i', (shared) => {
    const { mine, variance } = both(shared)
    const theirs = plainly(variance)
    theirs.x.forEach((value, k) => expect(mine.x[k]).toBeCloseTo(value, 7))
    theirs.levels.forEach((value, g) => expect(mine.levels[g]).toBeCloseTo(value, 7))
    const doubt = (one: ReturnType<typeof condition>): number[] => {
      const own = diagonal(selectedInverse(one.factor))
      const levels = inverse(denseFromFactor(one.levelFactor))
      return Array.from(own, (value, k) => {
        const pull = Matrix.rowVector(one.pull.map((each) => each[k]!))
        return value + pull.mmul(levels).mmul(pull.transpose()).get(0, 0)
      })
    }
    const [a, b] = [doubt(mine), doubt(theirs)]
    b.forEach((value, k) => expect(a[k]! / value).toBeCloseTo(1, 5))
  })
  it('is as likely, but for what no scale changes', () => {
    const [weak, strong] = [both(100), both(1000)]
    expect(strong.mine.deviance - weak.mine.deviance).toBeCloseTo(
      plainly(strong.variance).deviance - plainly(weak.variance).deviance,
      4,
    )
  })
})

function denseFromFactor(l: Banded): Matrix {
  const lower = new Matrix(
    Array.from({ length: l.size }, (_, r) =>
      Array.from({ length: l.size }, (_c, c) =>
        c > r || r - c > l.width ? 0 : l.data[r * (l.width + 1) + l.width - (r - c)]!,
      ),
    ),
  )
  return lower.mmul(lower.transpose())
}

it('the restricted likelihood of a balanced one-way layout has its closed form', () => {
  const [runs, each] = [6, 8]
  const next = random(5)
  const y = Float32Array.from(
    { length: runs * each },
    (_, i) => 0.02 * Math.sin(1 + Math.floor(i / each)) + 0.01 * normal(next),
  )
  const count = y.length
  const flat: Banded = banded(1, 0)
  flat.data[0] = 1e-9
  const groups = Array.from({ length: runs }, (_, g) => y.slice(g * each, (g + 1) * each))
  const total = (values: Float32Array): number => values.reduce((sum, one) => sum + one, 0)
  const normalSum: Banded = { size: 1, width: 0, data: Float64Array.of(count) }
  const sums = {
    normal: normalSum,
    right: Float64Array.of(total(y)),
    square: y.reduce((sum, one) => sum + one * one, 0),
    weight: count,
    stretches: groups.map((own) => ({ nodes: Float64Array.of(each), touched: [0], weight: each, right: total(own) })),
  }
  const deviance = (reading: number, level: number): number =>
    condition(sums, { precision: flat, logDeterminant: Math.log(1e-9) }, { reading, level }).deviance
  const mean = total(y) / count
  const within = groups.reduce((sum, own) => sum + own.reduce((s, one) => s + (one - total(own) / each) ** 2, 0), 0)
  const between = groups.reduce((sum, own) => sum + each * (total(own) / each - mean) ** 2, 0)
  const closed = (reading: number, level: number): number => {
    const both = reading + each * level
    return (count - runs) * Math.log(reading) + (runs - 1) * Math.log(both) + within / reading + between / both
  }
  for (const [reading, level] of [
    [2e-4, 1e-4],
    [1e-4, 4e-4],
    [5e-5, 1e-5],
  ] as const)
    expect(deviance(reading, level) - deviance(1e-4, 2e-4)).toBeCloseTo(closed(reading, level) - closed(1e-4, 2e-4), 4)
})

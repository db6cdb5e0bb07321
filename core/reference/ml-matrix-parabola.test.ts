/**
 * Source: ml-matrix (npm), a general linear algebra library: least squares of the parabola of torque over advance, and the
 * peak's error from its covariance by the delta method, worked out beside ours.
 */
import { inverse, Matrix, solve } from 'ml-matrix'
import { seededRandom } from '../src/numbers/random'
import { studentFactor } from '../src/numbers/studentT'
import { DEFAULT_SPARK, fitAdvance, type SparkPoint } from '../src/spark/fitAdvance'

const SETTINGS = [18, 22, 26, 30, 34]
const OPTIONS = { ...DEFAULT_SPARK, present: 24, hasKnockChannel: true }

/** Readings without outliers, so that no weight departs from one. */
function readings(seed: number, bend: number): SparkPoint[] {
  const random = seededRandom(seed)
  return SETTINGS.flatMap((advance) =>
    [1, 2, 3].map(() => ({
      advance,
      // Two sizes of departure only: none is beyond twice the spread.
      torque: 40 - bend * (advance - 27) ** 2 + (random.uniform() < 0.5 ? -0.1 : 0.1),
      knock: false,
    })),
  )
}
const design = (points: readonly SparkPoint[], centre: number): Matrix =>
  new Matrix(points.map(({ advance }) => [1, advance - centre, (advance - centre) ** 2]))

it('flat torque: the coefficients are those of ordinary least squares', () => {
  let compared = 0
  for (let seed = 1; seed <= 20; seed++) {
    const points = readings(seed, 0)
    const { curve, best } = fitAdvance(points, OPTIONS)
    // By chance some are bent.
    if (best) continue
    compared++
    const theirs = solve(
      design(points, curve!.centre),
      Matrix.columnVector(points.map((one) => one.torque)),
    ).to1DArray()
    expect([curve!.a, curve!.b, curve!.c]).toEqual(theirs.map((value) => expect.closeTo(value, 6) as number))
  }
  expect(compared).toBeGreaterThan(15)
})

it('a peak: the coefficients, and the interval of the peak, with the usual bend as one more row', () => {
  for (let seed = 1; seed <= 20; seed++) {
    const points = readings(seed, 0.02)
    const { curve, best, spread } = fitAdvance(points, OPTIONS)
    const { centre, a, b, c } = curve!
    // 10 degrees cost 5 %, give or take 1.5: as it stands in the fit.
    const root = spread / (1.5e-4 * a)
    const rows = design(points, centre).to2DArray()
    const x = new Matrix([...rows, [0, 0, root]])
    const y = Matrix.columnVector([...points.map((one) => one.torque), -root * 5e-4 * a])
    const theirs = solve(x, y).to1DArray()
    expect(b).toBeCloseTo(theirs[1]!, 4)
    expect(c).toBeCloseTo(theirs[2]!, 5)
    const v = inverse(x.transpose().mmul(x)).mul(spread * spread)
    const gradient = Matrix.rowVector([0, -1 / (2 * c), b / (2 * c * c)])
    const error = Math.sqrt(gradient.mmul(v).mmul(gradient.transpose()).get(0, 0))
    const half = studentFactor(0.9, points.length - 3) * error
    expect(best!.high - best!.low).toBeCloseTo(2 * half, 3)
    expect(best!.advance).toBeCloseTo(centre - theirs[1]! / (2 * theirs[2]!), 2)
  }
})

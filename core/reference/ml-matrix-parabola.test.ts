/**
 * Source: ml-matrix (npm), a general linear algebra library: least squares of a parabola and its covariance, and the error of its peak
 * by the delta method, worked out beside ours.
 */
import { inverse, Matrix, solve } from 'ml-matrix'
import { fitParabola } from '../src/numbers/parabola'
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

it('a parabola of torque over something: the coefficients are those of ordinary least squares', () => {
  for (let seed = 1; seed <= 20; seed++) {
    const points = readings(seed, 0.02)
    const { centre, a, b, c, covariance, spread } = fitParabola(
      points.map(({ advance, torque }) => ({ x: advance, y: torque })),
    )
    const x = design(points, centre)
    const theirs = solve(x, Matrix.columnVector(points.map((one) => one.torque))).to1DArray()
    expect([a, b, c]).toEqual(theirs.map((value) => expect.closeTo(value, 6) as number))
    const v = inverse(x.transpose().mmul(x)).mul(spread * spread)
    expect(covariance[2]![2]!).toBeCloseTo(v.get(2, 2), 9)
  }
})

it('best advance: where a general least squares has its peak, and as sure of it as the delta method, or a little surer', () => {
  for (let seed = 1; seed <= 20; seed++) {
    const points = readings(seed, 0.02)
    const { best, spread } = fitAdvance(points, OPTIONS)
    const x = design(points, 26)
    const [, b, c] = solve(x, Matrix.columnVector(points.map((one) => one.torque))).to1DArray() as [
      number,
      number,
      number,
    ]
    const v = inverse(x.transpose().mmul(x)).mul(0.1 * 0.1)
    const gradient = Matrix.rowVector([0, -1 / (2 * c), b / (2 * c * c)])
    const error = Math.sqrt(gradient.mmul(v).mmul(gradient.transpose()).get(0, 0))
    // Ours knows how sharply torque falls, and allows it to fall faster on one side.
    expect(Math.abs(best!.advance - (26 - b / (2 * c)))).toBeLessThan(1.6)
    expect(best!.high - best!.low).toBeGreaterThan(studentFactor(0.9, points.length - 3) * error)
    expect(best!.high - best!.low).toBeLessThan(6 * studentFactor(0.9, points.length - 3) * error + 1)
    expect(spread).toBeGreaterThan(0.05)
    expect(spread).toBeLessThan(0.2)
  }
})

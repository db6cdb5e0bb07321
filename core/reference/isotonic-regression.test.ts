/**
 * Isotonic regression against its min-max formula (Barlow, Bartholomew, Bremner and Brunk 1972, theorem 1.1), which is
 * another algorithm altogether; and the monotone cubic against what it must keep (Fritsch and Carlson 1980).
 */
import fc from 'fast-check'
import { isotonic } from '../src/numbers/isotonic'
import { leastSquares } from '../src/numbers/leastSquares'
import { monotoneCubic } from '../src/numbers/monotoneCubic'
import { Matrix, solve } from 'ml-matrix'

const value = fc.double({ min: -100, max: 100, noNaN: true })

test('pools come to the largest over starts of the least over ends of weighted means', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(value, fc.double({ min: 0.1, max: 10, noNaN: true })), { minLength: 1, maxLength: 20 }),
      (pairs) => {
        const [values, weights] = [pairs.map((one) => one[0]), pairs.map((one) => one[1])]
        const meanOf = (from: number, to: number): number => {
          let [sum, total] = [0, 0]
          for (let k = from; k <= to; k++) {
            sum += weights[k]! * values[k]!
            total += weights[k]!
          }
          return sum / total
        }
        const found = isotonic(values, weights)
        values.forEach((_, k) => {
          const starts = Array.from({ length: k + 1 }, (_, i) => i)
          const ends = Array.from({ length: values.length - k }, (_, i) => k + i)
          const exact = Math.max(...starts.map((from) => Math.min(...ends.map((to) => meanOf(from, to)))))
          expect(found[k]!).toBeCloseTo(exact, 8)
        })
      },
    ),
  )
})

test('a monotone cubic passes through its points, rises with them, and is a line on a line', () => {
  fc.assert(
    fc.property(fc.array(fc.double({ min: 0, max: 5, noNaN: true }), { minLength: 2, maxLength: 12 }), (steps) => {
      const xs = steps.map((_, k) => k * 1.5)
      const ys = steps.map((_, k) => steps.slice(0, k + 1).reduce((sum, one) => sum + one, 0))
      const curve = monotoneCubic(xs, ys)
      xs.forEach((x, k) => expect(curve(x)).toBeCloseTo(ys[k]!, 9))
      let before = -Infinity
      for (let x = 0; x <= xs.at(-1)!; x += 0.05) {
        expect(curve(x)).toBeGreaterThanOrEqual(before - 1e-9)
        before = curve(x)
      }
    }),
  )
  const straight = monotoneCubic([0, 1, 3, 7], [1, 3, 7, 15])
  for (const x of [0.2, 1.7, 5]) expect(straight(x)).toBeCloseTo(1 + 2 * x, 12)
})

test('least squares are those of ml-matrix', () => {
  const rows = Array.from({ length: 20 }, (_, i) => [1, i / 10, (i / 10) ** 2])
  const values = rows.map((row, i) => 2 - 3 * row[1]! + 0.5 * row[2]! + Math.sin(5 * i))
  const exact = solve(new Matrix(rows), Matrix.columnVector(values)).to1DArray()
  leastSquares(rows, values).forEach((one, k) => expect(one).toBeCloseTo(exact[k]!, 5))
})

/**
 * Source: tables of Student's t, upper 5 % point (any handbook, e.g. Abramowitz and Stegun, table 26.10), quoted from
 * memory: 2.353 (3), 2.132 (4), 2.015 (5), 1.943 (6), 1.812 (10), 1.725 (20), 1.697 (30), 1.645 (infinity).
 */
import { studentQuantile95 } from '../src/numbers/studentT'

it.each([
  [3, 2.353],
  [4, 2.132],
  [5, 2.015],
  [6, 1.943],
  [10, 1.812],
  [20, 1.725],
  [30, 1.697],
  [1e9, 1.645],
])('%i degrees of freedom', (df, value) => {
  expect(Math.abs(studentQuantile95(df) - value)).toBeLessThan(0.006)
})

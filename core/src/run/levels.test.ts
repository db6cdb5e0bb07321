import { seededRandom } from '../numbers/random'
import { firstFrom } from './firstFrom'
import { leastMost, levelsOf, rowsByColumn } from './levels'
import { pyramidOf } from './pyramid'

const { uniform } = seededRandom(4)
const values = Float32Array.from({ length: 70_001 }, () => (uniform() < 0.02 ? NaN : 1000 * uniform() - 500))

it('the least and the most of any rows are those of a plain search', () => {
  const levels = levelsOf(values)
  for (let n = 0; n < 400; n++) {
    const from = Math.floor(uniform() * values.length)
    const to = from + Math.floor(uniform() ** 3 * (values.length - from))
    const known = values.slice(from, to).filter((one) => one === one)
    const wanted = known.length
      ? [known.reduce((a, b) => Math.min(a, b)), known.reduce((a, b) => Math.max(a, b))]
      : null
    const told: [number, number] = [NaN, NaN]
    expect(leastMost(levels, from, to, told) ? told : null).toEqual(wanted)
  }
  const out: [number, number] = [NaN, NaN]
  expect(leastMost(levels, -5, 1e9, out)).toBe(true)
  expect(leastMost(levelsOf(new Float32Array(0)), 0, 0, out)).toBe(false)
  expect(leastMost(levelsOf(Float32Array.of(NaN, NaN)), 0, 2, out)).toBe(false)
})

it('even parts of a span hold what a plain search finds in them', () => {
  const time = Float32Array.from(values, (_, k) => k / 100)
  const { min, max, time: middles } = pyramidOf(time, values, { from: 100, to: 500 }, 40)
  middles.forEach((middle, k) => {
    const within = values.filter((one, i) => Math.abs(time[i]! - middle) < 4.99 && one === one)
    expect(min[k]!).toBeLessThanOrEqual(within.reduce((a, b) => Math.min(a, b)))
    expect(max[k]!).toBeGreaterThanOrEqual(within.reduce((a, b) => Math.max(a, b)))
  })
})

it('columns of a screen begin where their time does, a few rows earlier where they hold many, and leave none out', () => {
  const time = Float32Array.from(values, (_, k) => k / 100)
  for (const [from, to, columns] of [
    [0, 700.01, 100],
    [3.3, 690, 800],
    [20, 21, 300],
  ] as const) {
    const rows = rowsByColumn(time, from, to, columns)
    const each = (rows[columns]! - rows[0]!) / columns
    rows.forEach((row, x) => {
      const own = firstFrom(time, from + ((to - from) * x) / columns)
      expect(own - row).toBeGreaterThanOrEqual(0)
      expect(own - row).toBeLessThanOrEqual(each / 4)
    })
  }
})

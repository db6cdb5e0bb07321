import { seededRandom } from '../numbers/random'
import { leastMost, levelsOf } from './levels'
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
    expect(leastMost(levels, from, to)).toEqual(wanted)
  }
  expect(leastMost(levels, -5, 1e9)).not.toBeNull()
  expect(leastMost(levelsOf(new Float32Array(0)), 0, 0)).toBeNull()
  expect(leastMost(levelsOf(Float32Array.of(NaN, NaN)), 0, 2)).toBeNull()
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

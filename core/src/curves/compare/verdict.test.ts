import { seededRandom } from '../../numbers/random'
import { compareSets, type Comparison } from './compare'
import { curveRuler, rulerRpm } from '../lay/ruler'
import { verdictOf } from './verdict'

const RULER = curveRuler(3000, 9000)
const RPM = rulerRpm(RULER)
/** Runs that repeat to a percent as a whole, and differ a little from bin to bin. */
const runs = (seed: number, count: number, of: (rpm: number) => number = () => 40): Float32Array[] => {
  const random = seededRandom(seed)
  return Array.from({ length: count }, () => {
    const whole = 1 + 0.01 * random.normal()
    return Float32Array.from(RPM, (rpm) => of(rpm) * whole * (1 + 0.002 * random.normal()))
  })
}
/** As the spark stage asks for it. */
const OPTIONS = { confidence: 0.9, rate: 0.03 }

it('two settings that differ by their spread only: no difference shown, in 95 of 100', () => {
  const none = Array.from({ length: 400 }, (_, seed) =>
    verdictOf(compareSets(runs(2 * seed + 1, 3), runs(2 * seed + 2, 3), RULER, OPTIONS)),
  ).filter((one) => one.verdict === 'no difference shown')
  expect(none.length / 400).toBeGreaterThanOrEqual(0.95)
})

it('a gain in the middle and a loss at the top are told by span', () => {
  const second = runs(3, 3, (rpm) => (rpm < 5000 ? 40 : rpm < 7000 ? 44 : 36))
  const { verdict, spans, over, sees } = verdictOf(compareSets(runs(4, 3), second, RULER, OPTIONS))
  // One percent of spread over three runs on each side.
  expect(sees!).toBeGreaterThan(0.2)
  expect(sees!).toBeLessThan(1.5)
  expect(verdict).toBe('more here, less there')
  expect(over).toEqual({ fromRpm: 3000, toRpm: 9000 })
  expect(spans).toHaveLength(2)
  expect(spans[0]).toMatchObject({ fromRpm: 5000, toRpm: 6900 })
  expect(spans[0]!.difference).toBeGreaterThan(2.5)
  expect(spans[1]).toMatchObject({ fromRpm: 7000, toRpm: 9000 })
})

it('a real difference over two hundred rpm is none to live with; one run tells nothing', () => {
  const narrow = runs(5, 3, (rpm) => (rpm >= 5000 && rpm <= 5100 ? 50 : 40))
  expect(verdictOf(compareSets(runs(6, 3), narrow, RULER, OPTIONS)).verdict).toBe('no difference shown')
  expect(verdictOf(compareSets(runs(6, 1), narrow, RULER, OPTIONS)).verdict).toBe('not told')
})

/** A comparison in bins of 100 rpm, real wherever the difference is not 0. */
function compared(...difference: number[]): Comparison {
  return {
    rpm: difference.map((_, k) => 3000 + 100 * k),
    difference,
    low: difference.map((one) => one - 0.5),
    high: difference.map((one) => one + 0.5),
    real: difference.map((one) => one !== 0),
  } as Partial<Comparison> as Comparison
}

describe('whether there is an elsewhere without a difference', () => {
  it.each([
    ['real from end to end', [2, 2, 2, 2], false],
    ['more on one half, less on the other', [2, 2, 2, -2, -2, -2], false],
    ['an end without one', [2, 2, 2, 0], true],
    ['a span too narrow to count', [2, 2, 2, -2], true],
  ])('%s', (_what, difference, elsewhere) => expect(verdictOf(compared(...difference)).elsewhere).toBe(elsewhere))
})

import fc from 'fast-check'
import { seededRandom } from '../numbers/random'
import { build, type Table } from '../table/table'
import type { SparkBin } from './bin'
import { judgeBin, type JudgedBin } from './judge'
import { fitMixture, lossAt, type MixturePoint } from './mixtureSweep'
import { oneKnob } from './oneKnob'
import { suggestSpark } from './suggestSpark'
import type { SparkLimits } from './sparkChange'

const TABLE: Table = {
  loadAxis: 'throttle',
  rpm: [2000, 4000, 6000, 8000],
  load: [20, 60, 100],
  kind: 'spark base',
  composition: 'add',
  values: [20, 21, 22].map((value) => [value, value + 1, value + 2, value + 3]),
}

/** What was measured at a place: where torque is best, where it knocks, and how far readings scatter. */
interface Measured {
  stop: number
  rpm: number
  best: number
  knocksFrom: number
  noise: number
  present: number
  hasKnockChannel: boolean
  seed: number
}
const measured = fc.record({
  stop: fc.constantFrom(20, 35, 60, 85, 100),
  rpm: fc.integer({ min: 2000, max: 8000 }),
  best: fc.double({ min: 5, max: 45, noNaN: true }),
  knocksFrom: fc.constantFrom(12, 20, 26, 99),
  noise: fc.constantFrom(0.0005, 0.003, 0.01),
  present: fc.integer({ min: 12, max: 30 }),
  hasKnockChannel: fc.boolean(),
  seed: fc.integer({ min: 1, max: 1e6 }),
})
const STEP = 3
const TRIED = [0, -2, -1, 1, 2, 0].map((k) => k * STEP)

function judged({ stop, rpm, best, knocksFrom, noise, present, hasKnockChannel, seed }: Measured): JudgedBin {
  const random = seededRandom(seed)
  const bin: SparkBin = {
    stop,
    rpm,
    source: 'steps',
    isStatic: false,
    points: TRIED.flatMap((offset) =>
      [1, 2, 3].map(() => ({
        advance: present + offset,
        torque: 40 * Math.max(0.3, 1 - 5.2e-4 * (present + offset - best) ** 2) * (1 + noise * random.normal()),
        knock: present + offset >= knocksFrom,
        run: 'r',
        at: '2026-03-02T10:00:00.000Z',
      })),
    ),
    present,
    presentAt: '2026-03-02T10:00:00.000Z',
    hasKnockChannel,
    knockFrom: null,
  }
  return judgeBin(bin, [])
}
const limits = fc.record({
  more: fc.double({ min: 0, max: 10, noNaN: true }),
  less: fc.double({ min: 0, max: 20, noNaN: true }),
  moreAfterKnock: fc.double({ min: 0, max: 10, noNaN: true }),
  moreUnseen: fc.double({ min: 0, max: 10, noNaN: true }),
  least: fc.double({ min: 0, max: 1, noNaN: true }),
})
/** New values are told to a tenth of a degree. */
const TENTH = 0.051

describe('whatever was measured, and whatever the limits (properties)', () => {
  it('advice lies within one step of what was tried, below the knock that was seen, and with an interval in order', () => {
    fc.assert(
      fc.property(measured, (one) => {
        const { fit } = judged(one)
        if (fit.best) expect(fit.best.low).toBeLessThanOrEqual(fit.best.high)
        if (fit.recommended === null) return
        expect(fit.recommended).toBeGreaterThanOrEqual(one.present - 3 * STEP - TENTH)
        expect(fit.recommended).toBeLessThanOrEqual(one.present + 3 * STEP + TENTH)
        expect(fit.recommended).toBeLessThan(one.knocksFrom)
        expect(fit.gain!.low).toBeLessThanOrEqual(fit.gain!.high)
      }),
      { numRuns: 300, seed: 7 },
    )
  })
  it('no cell of a table moves further than a pass may go, and without points none moves', () => {
    fc.assert(
      fc.property(fc.array(measured, { maxLength: 6 }), limits, (many, limit: SparkLimits) => {
        const bins = many.map(judged)
        const { nodes, values } = suggestSpark(TABLE, bins, limit)
        for (const node of nodes.flat()) {
          expect(node.changeDeg).toBeLessThanOrEqual(limit.more + TENTH)
          expect(node.changeDeg).toBeGreaterThanOrEqual(-limit.less - TENTH)
          if (many.length === 0) expect(node.after).toBe(node.before)
          expect(Number.isFinite(node.after)).toBe(true)
        }
        expect(values).toEqual(build(TABLE, (row, column) => nodes[row]![column]!.after))
      }),
      { numRuns: 120, seed: 7 },
    )
  })
  it('one knob: degrees from now do not care where the scale of the plate begins', () => {
    fc.assert(
      fc.property(fc.array(measured, { minLength: 1, maxLength: 4 }), fc.integer({ min: -8, max: 8 }), (many, more) => {
        const use = { low: 1, middle: 2, high: 3 }
        const at = (shift: number): JudgedBin[] =>
          many.map((one) =>
            judged({
              ...one,
              present: one.present + shift,
              best: one.best + shift,
              knocksFrom: one.knocksFrom + shift,
            }),
          )
        const [first, moved] = [oneKnob(at(0), use, 2), oneKnob(at(more), use, 2)]
        expect(moved.verdict).toBe(first.verdict)
        expect(moved.recommended).toBe(first.recommended)
        if (first.best) expect(moved.best!.offset).toBeCloseTo(first.best.offset, 6)
      }),
      { numRuns: 120, seed: 7 },
    )
  })
  it('no mixture gives more than the best, and torque in another unit tells the same', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.82, max: 0.94, noNaN: true }),
        fc.constantFrom(0.0005, 0.002),
        fc.double({ min: 0.1, max: 50, noNaN: true }),
        fc.integer({ min: 1, max: 1e6 }),
        (best, noise, times, seed) => {
          const random = seededRandom(seed)
          const points = [0.78, 0.83, 0.88, 0.93, 0.98].flatMap((lambda) =>
            [1, 2].map((): MixturePoint => ({
              lambda,
              torque: 40 * (1 - 0.9 * (lambda - best) ** 2) * (1 + noise * random.normal()),
              knock: false,
            })),
          )
          const fit = fitMixture(points)
          const other = fitMixture(points.map((one) => ({ ...one, torque: one.torque * times })))
          expect(other.verdict).toBe(fit.verdict)
          for (const lambda of [0.8, 0.85, 0.9, 0.95]) {
            const [mine, theirs] = [lossAt(fit, lambda), lossAt(other, lambda)]
            if (!mine) continue
            expect(mine.value).toBeLessThanOrEqual(0)
            expect(mine.low).toBeLessThanOrEqual(mine.high)
            expect(theirs!.value).toBeCloseTo(mine.value, 6)
          }
        },
      ),
      { numRuns: 150, seed: 7 },
    )
  })
})

import fc from 'fast-check'
import { heldStretches } from './heldStretches'
import { mean } from './mean'

describe('held stretches', () => {
  it('begin anew where any column leaves the value it began with', () => {
    const rpm = { values: [3000, 3050, 3040, 4000, 4010, 4000], within: 120 }
    const throttle = { values: [20, 20, 20, 20, 20, 40], within: 2.5 }
    expect(heldStretches(6, [rpm, throttle])).toEqual([
      { from: 0, to: 3 },
      { from: 3, to: 5 },
      { from: 5, to: 6 },
    ])
  })

  it('are none without rows, and an unknown reading is a stretch of its own', () => {
    expect(heldStretches(0, [])).toEqual([])
    expect(heldStretches(3, [{ values: [1, NaN, 1], within: 1 }])).toHaveLength(3)
  })

  it('cover every row once, each within the allowance of its first', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -50, max: 50, noNaN: true })),
        fc.double({ min: 0.1, max: 20 }),
        (values, within) => {
          const found = heldStretches(values.length, [{ values, within }])
          expect(found.flatMap(({ from, to }) => values.slice(from, to))).toEqual(values)
          for (const { from, to } of found)
            expect(
              values.slice(from, to).every((one) => Math.abs(one - values[from]!) < within || one === values[from]),
            ).toBe(true)
        },
      ),
    )
  })
})

describe('mean', () => {
  it('passes over what is unknown, and is unknown over nothing', () => {
    expect(mean([1, NaN, 3])).toBe(2)
    expect(mean(Float32Array.of(9, 1, 2, 9), 1, 3)).toBe(1.5)
    expect(mean(undefined)).toBeNaN()
    expect(mean([NaN])).toBeNaN()
  })
})

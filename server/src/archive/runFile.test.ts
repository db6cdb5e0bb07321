import fc from 'fast-check'
import { writeFloat } from './runFile'

const textOf = (value: number): string => {
  const out = Buffer.alloc(64)
  return out.toString('latin1', 0, writeFloat(out, 0, value))
}

describe('numbers of an archive', () => {
  it.each([
    [Math.fround(12.34), '12.34'],
    [Math.fround(-0.05), '-0.05'],
    [Math.fround(0.9134), '0.9134'],
    [3000, '3000'],
    [0, '0'],
    [10, '10'],
    [Math.fround(1e20), '100000000000000000000'],
    [NaN, ''],
  ])('%s is written as %j', (value, text) => expect(textOf(value)).toBe(text))
  it('every float32 reads back as it was', () => {
    fc.assert(
      fc.property(fc.float({ noNaN: true, noDefaultInfinity: true }), (value) => {
        const text = textOf(value)
        expect(text.length).toBeLessThanOrEqual(24)
        expect(Math.fround(Number(text)) + 0).toBe(value + 0)
      }),
      { numRuns: 3000 },
    )
    for (let k = -20_000; k <= 20_000; k++)
      expect(Math.fround(Number(textOf(Math.fround(k / 1000))))).toBe(Math.fround(k / 1000))
  })
})

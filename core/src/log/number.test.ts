import { parseClock } from './clockTime'
import { parseNumber } from './number'

describe('numbers', () => {
  it.each([
    ['12', 12],
    [' 1.5 ', 1.5],
    ['-3e2', -300],
    ['.5', 0.5],
    ['−2', -2],
  ])('%s', (text, value) => expect(parseNumber(text, false)).toBe(value))
  it.each(['', ' ', 'abc', '0x1f', 'Infinity', '1 2', 'NaN', '1,5'])('"%s" is none', (text) =>
    expect(parseNumber(text, false)).toBeNaN(),
  )
  it('decimal commas', () => expect([parseNumber('1,5', true), parseNumber('1.234,5', true)]).toEqual([1.5, 1234.5]))
  it('commas between thousands, where there is no decimal comma', () => {
    expect(['2,000', '-12,345.5', '1,234,567'].map((one) => parseNumber(one, false))).toEqual([2000, -12345.5, 1234567])
    expect(['0,950', '12,34', '1234,567', '1,2345', ',500'].map((one) => parseNumber(one, false))).toEqual([
      NaN,
      NaN,
      NaN,
      NaN,
      NaN,
    ])
  })
  it('clock times', () =>
    expect([parseClock('01:02:03.5'), parseClock('2026-01-01 00:01:00'), parseClock('2:03'), parseClock('x')]).toEqual([
      3723.5,
      60,
      123,
      NaN,
    ]))
})

import fc from 'fast-check'
import { fittedFault, type Fitted } from './carburettor'
import { jetArea } from './model/jetSizes'
import { SHED_BODY, SHED_BOX } from '../simulator/knownCarburettor'
import { diameterAt, needleFault } from './model/needle'

const BASE: Fitted = { main: 115, pilot: 40, needle: 'T1', clip: 3, screw: 1.5, cutaway: 2.5 }

describe('parts', () => {
  it.each([
    // Hundredths of a millimetre across.
    ['diameter', (area: number) => 100 * Math.sqrt((4 * area) / Math.PI)],
    // Flow through an orifice goes with its area.
    ['flow', (area: number) => area / jetArea(1, 'flow')],
  ] as const)('a jet’s number and area belong together (%s)', (scheme, numberOf) => {
    fc.assert(
      fc.property(fc.double({ min: 20, max: 400, noNaN: true }), (number) => {
        expect(numberOf(jetArea(number, scheme))).toBeCloseTo(number, 6)
      }),
    )
    expect(() => jetArea(0, scheme)).toThrow(RangeError)
  })
  it('by diameter area goes as the square, by flow in proportion', () => {
    expect(jetArea(200, 'diameter') / jetArea(100, 'diameter')).toBeCloseTo(4, 9)
    expect(jetArea(200, 'flow') / jetArea(100, 'flow')).toBeCloseTo(2, 9)
  })
  it('a needle is straight between its places and constant beyond them', () => {
    const needle = {
      name: 'N',
      points: [
        { at: 2, diameter: 2.5 },
        { at: 10, diameter: 2.1 },
      ],
    }
    expect([0, 2, 6, 10, 30].map((at) => diameterAt(needle, at))).toEqual([2.5, 2.5, 2.3, 2.1, 2.1])
  })
  it.each([
    [
      'grows',
      [
        { at: 0, diameter: 2.4 },
        { at: 5, diameter: 2.5 },
      ],
      /grows from 2.4 mm to 2.5 mm/,
    ],
    [
      'runs back',
      [
        { at: 5, diameter: 2.5 },
        { at: 5, diameter: 2.4 },
      ],
      /further down/,
    ],
    ['is one place only', [{ at: 0, diameter: 2.5 }], /two places/],
    [
      'has no diameter',
      [
        { at: 0, diameter: 0 },
        { at: 5, diameter: 0 },
      ],
      /no sound figures/,
    ],
  ])('a needle that %s is told', (_what, points, text) => {
    expect(needleFault({ name: 'N', points })).toMatch(text)
  })
  it.each([
    ['a clip that is not there', { clip: 6 }, /no clip position 6: this needle has 5 grooves/],
    ['half a clip', { clip: 2.5 }, /no clip position/],
    ['a needle nobody entered', { needle: 'X9' }, /not in the list of needles/],
    ['a jet that is no number', { main: NaN }, /main jet is no number/],
  ])('%s cannot be fitted', (_what, over, text) => {
    expect(fittedFault(SHED_BODY, SHED_BOX, { ...BASE, ...over })).toMatch(text)
  })
  it('what is missing is asked for, and what is whole is taken', () => {
    const { pilot: _, ...without } = BASE
    expect(fittedFault(SHED_BODY, SHED_BOX, without)).toBe('Say what is fitted as pilot jet.')
    expect(fittedFault(SHED_BODY, SHED_BOX, BASE)).toBeNull()
  })
})

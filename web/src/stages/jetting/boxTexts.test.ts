import { EMPTY_BOX, type Box } from '@yuzumix/core'
import { boxTexts, readBoxTexts } from './boxTexts'

const BOX: Box = {
  main: [110, 112.5],
  pilot: [40],
  cutaway: [2, 2.5],
  springs: [15],
  needles: [
    {
      name: 'T1',
      points: [
        { at: 0, diameter: 2.56 },
        { at: 20, diameter: 2.1 },
      ],
    },
  ],
  rods: [{ name: 'R 1', cruise: 1.7, power: 1.25 }],
}

describe('the parts box as it is typed', () => {
  it('what is shown reads back as what it was', () => {
    expect(readBoxTexts(boxTexts(BOX))).toEqual({ box: BOX, faults: {} })
    expect(readBoxTexts(boxTexts(EMPTY_BOX))).toEqual({ box: EMPTY_BOX, faults: {} })
  })
  it('sizes are sorted, once each, with a decimal comma as well', () => {
    expect(readBoxTexts({ ...boxTexts(EMPTY_BOX), main: ' 120;112,5  120\n110 ' }).box.main).toEqual([110, 112.5, 120])
  })
  it('a needle by its name alone is not known, and one counted from further up is counted from zero', () => {
    const { box, faults } = readBoxTexts({ ...boxTexts(EMPTY_BOX), needles: 'U\nS1 from 20: 0/2.56 20/2.56 40/2.1' })
    expect(faults).toEqual({})
    expect(box.needles).toEqual([
      { name: 'U', points: [] },
      {
        name: 'S1',
        points: [
          { at: 0, diameter: 2.56 },
          { at: 20, diameter: 2.1 },
        ],
      },
    ])
    expect(readBoxTexts(boxTexts(box)).box).toEqual(box)
  })
  it.each([
    ['main', '110 wide', /"wide" is no size/],
    ['pilot', '-40', /no size/],
    ['needles', 'T1: 0/2.4 5/2.5', /grows/],
    ['needles', 'T1: 0/2.4', /two places/],
    ['rods', 'R1: 1.7', /two diameters/],
  ] as const)('%s "%s" is told at its field', (field, text, words) => {
    expect(readBoxTexts({ ...boxTexts(EMPTY_BOX), [field]: text }).faults[field]).toMatch(words)
  })
})

import { readBands, readSpeeds, thirds } from './bandText'

describe('bands as typed', () => {
  it.each([
    ['3000-5000', [{ fromRpm: 3000, toRpm: 5000 }]],
    [
      '3000 to 5000; 5000–7000',
      [
        { fromRpm: 3000, toRpm: 5000 },
        { fromRpm: 5000, toRpm: 7000 },
      ],
    ],
    [' 3000 5000 ,\n', [{ fromRpm: 3000, toRpm: 5000 }]],
    ['', []],
  ])('"%s"', (text, bands) => expect(readBands(text)).toEqual(bands))
  it.each(['fast', '5000-3000', '3000-', '3000-40000', '3000-5000-7000'])('"%s" is none, and says so', (text) =>
    expect(readBands(text)).toMatch(/is no band. Type for example 3000-5000/),
  )
  it('there are twelve at the most', () => {
    expect(readBands(Array(13).fill('3000-5000').join(','))).toMatch(/Twelve/)
  })
  it('the usual ones are thirds of what was run, in whole hundreds', () => {
    expect(readBands(thirds(2480, 9430))).toEqual([
      { fromRpm: 2500, toRpm: 4800 },
      { fromRpm: 4800, toRpm: 7100 },
      { fromRpm: 7100, toRpm: 9400 },
    ])
  })
})

it('engine speeds as typed', () => {
  expect(readSpeeds('4000, 6000;8000')).toEqual([4000, 6000, 8000])
  expect(readSpeeds('')).toEqual([])
  expect(readSpeeds('4000 fast')).toMatch(/"fast" is not a number/)
})

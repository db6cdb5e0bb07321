import fc from 'fast-check'
import Papa from 'papaparse'
import { csvText, plainCell } from './csvText'

describe('CSV that a spreadsheet opens', () => {
  it('holds no cell that is taken for a formula, and reads back as it was', () => {
    const signs = fc.array(fc.constantFrom('=', '+', '-', '@', "'", '\t', 'a', '1', ',', '"'), { maxLength: 6 })
    fc.assert(
      fc.property(fc.array(signs, { minLength: 1, maxLength: 4 }), (cells) => {
        const row = ['a', ...cells.map((one) => one.join(''))]
        const read = Papa.parse<string[]>(csvText([row]).replace(/\n$/, ''), { delimiter: ',' }).data[0]!
        for (const cell of read) expect(cell).not.toMatch(/^[=+\-@\t\r]/)
        // An apostrophe that was there before such a sign is the one thing that is not told from ours.
        const plain = row.map((cell) => plainCell(cell))
        expect(read.map(plainCell)).toEqual(plain)
      }),
    )
  })
  it('numbers below nought stay numbers', () => {
    expect(csvText([['a', -3]])).toBe('a,-3\n')
  })
})

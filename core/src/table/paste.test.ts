import { CellsError } from './cells'
import { pasteCells } from './paste'

const grid = { rpm: [2000, 4000, 6000], load: [20, 60, 100] }
const values = [
  [1, 2, 3],
  [4, 5, 6],
  [7, 8, 9],
]
const at = (row0: number, column0: number, row1 = row0, column1 = column0) => ({ row0, column0, row1, column1 })
const paste = (text: string, selection = at(2, 0)) => pasteCells(grid, values, selection, text)

describe('a paste', () => {
  it('hangs from the top left of the selection, highest load first', () => {
    const { values: after, count, notes } = paste('70\t80\n40\t50')
    expect(after).toEqual([
      [1, 2, 3],
      [40, 50, 6],
      [70, 80, 9],
    ])
    expect(count).toBe(4)
    expect(notes).toEqual(['4 cells are pasted, 2 rows by 2.'])
  })
  it('of one value fills the selection', () => {
    expect(paste('5,5', at(0, 0, 1, 2)).values).toEqual([[5.5, 5.5, 5.5], [5.5, 5.5, 5.5], values[2]])
    expect(paste('5,5', at(0, 0, 1, 2)).notes).toEqual(['5.5 fills the 6 cells selected.'])
  })
  it('that runs over the edge says how much was left out', () => {
    const { values: after, notes } = paste('1\t2\t3\n4\t5\t6', at(0, 1))
    expect(after[0]).toEqual([1, 1, 2])
    expect(notes[1]).toBe('4 ran over the edge of the table and were left out.')
  })
  it('with the table’s own breakpoints about it goes where they say', () => {
    const { values: after, notes } = paste('load \\ rpm\t4000\t6000\n60\t50\t60\n20\t20\t30', at(0, 0))
    expect(after).toEqual([[1, 20, 30], [4, 50, 60], values[2]])
    expect(notes[1]).toMatch(/rpm and load of their heads/)
  })
  it('with other heads leaves them out and says so', () => {
    const { values: after, notes } = paste('\t1000\t2000\n80\t70\t80', at(2, 0))
    expect(after[2]).toEqual([70, 80, 9])
    expect(notes[1]).toMatch(
      /first line and the first column was taken for breakpoints and left out; they are not those/,
    )
    expect(paste('low\thigh\n70\t80', at(2, 0)).notes[1]).toMatch(/it is no number/)
  })
  it.each([
    ['1\tfour', /"four" is not a number \(row 1, column 2\)/],
    ['1\t2\n3', /another number of cells/],
    ['', /not a number/],
    ['a\tb', /not a number/],
  ])('that makes no sense is refused whole: %j', (text, words) => {
    expect(() => paste(text)).toThrow(CellsError)
    expect(() => paste(text)).toThrow(words)
  })
})

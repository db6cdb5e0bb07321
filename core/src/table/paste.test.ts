import { looksTurned, pasteCells } from './paste'

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
    expect(() => paste(text)).toThrow(expect.objectContaining({ code: 'no-cells' }))
    expect(() => paste(text)).toThrow(words)
  })
})

describe('a table that is written with the smallest load on top', () => {
  // 7 8 9 stands at the largest load.
  const upsideDown = '1.1\t2.1\t3.1\n4.1\t5.1\t6.1\n7.1\t8.1\t9.1'
  const asHere = '7.1\t8.1\t9.1\n4.1\t5.1\t6.1\n1.1\t2.1\t3.1'
  const none = values.map((row) => row.map(() => NaN))
  const even = values.map((row) => row.map(() => 100))

  it('is told from what stands there, or from fuel that falls where it should rise', () => {
    expect([looksTurned('fuel base', values, upsideDown), looksTurned('fuel base', values, asHere)]).toEqual([
      true,
      false,
    ])
    expect([looksTurned('fuel base', none, upsideDown), looksTurned('fuel base', none, asHere)]).toEqual([true, false])
    expect([looksTurned('fuel base', even, upsideDown), looksTurned('fuel base', even, asHere)]).toEqual([true, false])
    // A trim may rise either way.
    expect(looksTurned('fuel trim', none, upsideDown)).toBe(false)
  })
  it('does not tell where its heads say, or it is no whole table', () => {
    expect(looksTurned('fuel base', values, '\t1\t2\t3\n10\t1\t2\t3\n20\t4\t5\t6\n30\t7\t8\t9')).toBeNull()
    expect(looksTurned('fuel base', values, '1\t2\t3')).toBeNull()
  })
  it('is turned over where that is said, or a column of load beside it rises downwards', () => {
    const whole = at(0, 0, 2, 2)
    const wanted = [
      [1.1, 2.1, 3.1],
      [4.1, 5.1, 6.1],
      [7.1, 8.1, 9.1],
    ]
    expect(pasteCells(grid, values, whole, upsideDown, true).values).toEqual(wanted)
    expect(pasteCells(grid, values, whole, asHere).values).toEqual(wanted)
    const withLoads = '\t1\t2\t3\n10\t1.1\t2.1\t3.1\n20\t4.1\t5.1\t6.1\n30\t7.1\t8.1\t9.1'
    const { values: after, notes } = pasteCells(grid, values, whole, withLoads)
    expect(after).toEqual(wanted)
    expect(notes).toContain('The first line was taken for the smallest load.')
  })
})

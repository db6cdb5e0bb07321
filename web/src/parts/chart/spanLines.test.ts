import { spanLines } from './spanLines'

const x = (rpm: number): number => rpm / 10
const at = (from: number, text: string) => ({ from, text })

describe('names of spans', () => {
  it('stand on one line where there is room, and never over each other', () => {
    expect(
      spanLines([at(1000, 'hole'), at(3000, 'flat spot'), at(3100, 'misfire, left out'), at(6000, 'snatchy')], x),
    ).toEqual([0, 0, 1, 0])
  })
  it('keep their places whatever order they come in', () => {
    expect(spanLines([at(3100, 'misfire, left out'), at(3000, 'flat spot')], x)).toEqual([1, 0])
  })
  it('are left out where five would stand in one place', () => {
    const lines = spanLines(
      Array.from({ length: 5 }, (_, k) => at(3000 + k, 'a long name of a thing')),
      x,
    )
    expect(lines).toEqual([0, 1, 2, 3, null])
  })
})

import { restoredStock } from './restoredStock'

const set = (setup: string, calibration: string) => ({ name: `${setup} ${calibration}`, setup, calibration })
const [STOCK, NEW, TUNED] = [
  set('stock silencer', 'stock'),
  set('short silencer', 'stock'),
  set('short silencer', 'revision 3'),
]
const NONE = { before: null, after: null }

describe('stock calibration on the new parts', () => {
  it('is asked for when parts and calibration changed together', () => {
    expect(restoredStock(STOCK, TUNED, [STOCK, TUNED], NONE)).toEqual([
      expect.stringMatching(/run "short silencer" on the stock calibration/),
    ])
  })
  it.each([
    ['there is such a set', STOCK, TUNED, [STOCK, NEW, TUNED]],
    ['only the parts changed', STOCK, NEW, [STOCK, NEW]],
    ['only the calibration changed', NEW, TUNED, [NEW, TUNED]],
  ])('is not when %s', (_what, before, after, sets) => expect(restoredStock(before, after, sets, NONE)).toEqual([]))
})

describe('a controller that learns', () => {
  it.each([
    [1, 3.5, 1],
    [-1, 1.5, 1],
    [1, 2.9, 0],
    [null, 9, 0],
  ])('long trims of %p and %p give %i warnings', (before, after, count) => {
    expect(restoredStock(NEW, TUNED, [NEW, TUNED], { before, after })).toHaveLength(count)
  })
})

import { isOpen, isRunning, isShut, isStanding } from './engineState'
import { isAtStop, isSameStop } from './stopOf'

describe('two stops', () => {
  it.each([
    [100, 95, true],
    [100, 92, false],
    [60, 63, true],
    [60, 65, false],
    [30, 32, true],
    [10, 11, true],
    // Small openings are set side by side.
    [8, 10, false],
    [3, 5, false],
    [3, 4, true],
  ])('%d and %d %%: the same is %s, whichever is named first', (one, other, same) => {
    expect([isSameStop(one, other), isSameStop(other, one)]).toEqual([same, same])
  })
  it('are no reading: one lies about the stop it was held at', () => {
    expect([isAtStop(10, 8), isAtStop(10, 7)]).toEqual([true, false])
  })
})

describe('an engine', () => {
  it('runs, turns over or stands; what was not read is neither', () => {
    const told = [900, 350, 0, NaN].map((rpm) => [isRunning(rpm), isStanding(rpm)])
    expect(told).toEqual([
      [true, false],
      [false, false],
      [false, true],
      [false, false],
    ])
  })
  it('has its plate shut, open or not read', () => {
    expect([1, 12, NaN].map((one) => [isShut(one), isOpen(one)])).toEqual([
      [true, false],
      [false, true],
      [false, false],
    ])
  })
})

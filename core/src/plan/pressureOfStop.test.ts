import { pressureOfStop } from './pressureOfStop'

/** A plate that is no exponential: readings of three stops. */
const truth = (rpm: number, stop: number, size: number): number => 28 + 64 * Math.tanh((stop / size) * (5000 / rpm))
const runsOf = (size: number) =>
  [8, 25, 100].map((stop) => {
    const rpm = Float32Array.from({ length: 60 }, (_, k) => 2500 + 100 * k)
    return { rpm, throttle: rpm.map(() => stop), manifold: rpm.map((one) => truth(one, stop, size)) }
  })

describe('pressure by throttle stop', () => {
  it.each([12, 35])('follows what the runs logged, at stops that none of them ran (a plate of size %i)', (size) => {
    const at = pressureOfStop(runsOf(size))
    for (const [rpm, stop] of [
      [3000, 15],
      [6000, 40],
      [8000, 60],
    ] as const)
      expect(Math.abs(at(rpm, stop) - truth(rpm, stop, size))).toBeLessThan(9)
  })
  it('where nothing is logged it rises with the stop and falls with speed, below the air outside', () => {
    const at = pressureOfStop([])
    expect(at(4000, 40)).toBeGreaterThan(at(4000, 10))
    expect(at(8000, 20)).toBeLessThan(at(3000, 20))
    expect(at(2000, 100)).toBeLessThan(101)
  })
})

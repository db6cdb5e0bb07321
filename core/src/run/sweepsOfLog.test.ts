import { stretchesOf } from './stretches'
import { partsOfRide, sweepsOfLog } from './sweepsOfLog'

const column = (values: number[]): Float32Array => Float32Array.from(values)

/** Sweeps at 60 % with overruns between, and, in a ride, a long hold after each. */
function log(sweeps: number, holdSeconds: number) {
  const [time, rpm, throttle]: number[][] = [[], [], []] as const
  let t = 0
  const row = (speed: number, opening: number): void => {
    time!.push((t += 0.05))
    rpm!.push(speed)
    throttle!.push(opening)
  }
  for (let k = 0; k < sweeps; k++) {
    for (let n = 0; n < 200; n++) row(3000 + 25 * n, 60)
    for (let n = 0; n < 60; n++) row(8000 - 75 * n, 1)
    for (let n = 0; n < 20 * holdSeconds; n++) row(4200, 20)
    for (let n = 0; n < 40; n++) row(3000, 1)
  }
  return { time: column(time!), rpm: column(rpm!), throttle: column(throttle!) }
}

describe('the sweeps of a log', () => {
  it('a name that somebody gave changes nothing, neither in a log of sweeps nor in a ride', () => {
    for (const [columns, isRide] of [
      [log(3, 0), false],
      [log(3, 60), true],
    ] as const) {
      const { time, rpm, throttle } = columns
      const stretches = stretchesOf(time, rpm, throttle).map((one) => ({ ...one, name: 'named by hand' }))
      expect(sweepsOfLog({ ...columns, isRide, stretches })).toEqual(sweepsOfLog({ ...columns, isRide }))
      expect(partsOfRide({ ...columns, isRide, stretches })).toEqual(partsOfRide({ ...columns, isRide }))
    }
  })

  it('a ride is not cut into its few sweeps, also where one was split; its parts follow', () => {
    const columns = log(3, 60)
    const { time, rpm, throttle } = columns
    const parts = partsOfRide({ ...columns, isRide: true })
    expect(parts.filter((one) => one.kind === 'sweep')).toHaveLength(3)
    expect(parts.filter((one) => one.kind === 'hold').length).toBeGreaterThanOrEqual(3)
    const found = stretchesOf(time, rpm, throttle)
    const first = found.find((one) => one.kind === 'sweep')!
    const middle = first.from + 6.5
    const split = found.flatMap((one) =>
      one === first
        ? [
            { ...one, to: middle },
            { ...one, from: middle },
          ]
        : [one],
    )
    expect(sweepsOfLog({ ...columns, isRide: true, stretches: split })).toEqual([])
    // The longer half is still one, the shorter is not.
    expect(
      partsOfRide({ ...columns, isRide: true, stretches: split }).filter((one) => one.kind === 'sweep'),
    ).toHaveLength(3)
  })

  it('of a log of one sweep, split by hand, there are two; joined again there is none', () => {
    const columns = log(1, 0)
    const { time, rpm, throttle } = columns
    expect(sweepsOfLog(columns)).toEqual([])
    const [one] = stretchesOf(time, rpm, throttle).filter(({ kind }) => kind === 'sweep')
    const halves = [
      { ...one!, to: one!.from + 5 },
      { ...one!, from: one!.from + 5 },
    ]
    const spans = sweepsOfLog({ ...columns, stretches: halves })
    expect(spans.map(({ stop }) => stop)).toEqual([60, 60])
    expect([spans[0]!.from, spans.at(-1)!.to]).toEqual([0, time.length])
    expect(sweepsOfLog({ ...columns, stretches: [one!] })).toEqual([])
  })

  it('one that was left out by time is none', () => {
    const columns = log(3, 0)
    const all = sweepsOfLog(columns)
    const { time } = columns
    const [, second] = all
    const without = [{ from: time[second!.from]!, to: time[second!.to - 1]! }]
    expect(sweepsOfLog({ ...columns, without })).toEqual([all[0], all[2]])
  })
})

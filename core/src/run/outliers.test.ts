import { outliersInWords, withoutOutliers } from './outliers'

const HZ = 50
const timeOf = (count: number, hz = HZ): Float32Array => Float32Array.from({ length: count }, (_, i) => i / hz)
/** A sweep of 1,000 rpm a second, with these rows changed. */
const sweep = (changed: Record<number, number> = {}, hz = HZ): { time: Float32Array; rpm: Float32Array } => ({
  time: timeOf(100, hz),
  rpm: Float32Array.from({ length: 100 }, (_, i) => changed[i] ?? 3000 + (1000 * i) / hz),
})
const blanks = (values: Float32Array): number[] => [...values.keys()].filter((i) => Number.isNaN(values[i]!))

describe('values that a channel cannot have', () => {
  it('are blanks: a sensor that drops out, a logger that writes a figure of its own', () => {
    const { lambda1, coolant, throttle } = withoutOutliers({
      lambda1: Float32Array.of(0.9, 0, 0.91, 9.99, -9999, NaN),
      coolant: Float32Array.of(80, 80, -9999, 80, 80, 80),
      throttle: Float32Array.of(20, 20, 20, 250, 20, 20),
    })
    expect(blanks(lambda1)).toEqual([1, 3, 4, 5])
    expect(blanks(coolant)).toEqual([2])
    expect(blanks(throttle)).toEqual([3])
  })
  it('columns without any stay as they are', () => {
    const columns = {
      ...sweep(),
      lambda1: new Float32Array(100).fill(0.9),
      unheardOf: new Float32Array(100).fill(-1e9),
    }
    const clean = withoutOutliers(columns)
    for (const channel of Object.keys(columns) as (keyof typeof columns)[])
      expect(clean[channel]).toBe(columns[channel])
  })
})

describe('spikes', () => {
  it('of engine speed that come and go within some rows are blanks, up or down', () => {
    const { rpm } = withoutOutliers(sweep({ 20: 9000, 40: 0, 41: 10, 60: 7000, 61: 100, 62: 8000 }))
    expect(blanks(rpm)).toEqual([20, 40, 41, 60, 61, 62])
  })
  it('a speed that stays where it went, or moves as an engine does, is none', () => {
    const shifted = sweep()
    shifted.rpm.fill(2000, 50)
    expect(withoutOutliers(shifted).rpm).toBe(shifted.rpm)
    // Four rows are no spike, nor is what lasts longer than a quarter of a second.
    const long = sweep({ 20: 5000, 21: 5000, 22: 5000, 23: 5000 })
    expect(withoutOutliers(long).rpm).toBe(long.rpm)
    const slow = sweep({ 20: 9500 }, 5)
    expect(withoutOutliers(slow).rpm).toBe(slow.rpm)
    // A beat of a single at idle.
    const beat = sweep({ 20: 3650 })
    expect(withoutOutliers(beat).rpm).toBe(beat.rpm)
  })
  it('of a throttle are those that no hand makes', () => {
    const throttle = Float32Array.from({ length: 100 }, (_, i) => (i === 30 ? 0 : i >= 50 && i < 62 ? 5 : 40))
    expect(blanks(withoutOutliers({ time: timeOf(100), throttle }).throttle)).toEqual([30])
    // At 10 Hz one row may be a hand's.
    expect(withoutOutliers({ time: timeOf(100, 10), throttle }).throttle).toBe(throttle)
  })
  it('of torque are those of the load cell: a dip stays, because a cylinder may have missed', () => {
    const torque = Float32Array.from({ length: 100 }, (_, i) => ({ 20: 0, 40: 120, 41: 110, 60: 8, 80: 48 })[i] ?? 35)
    expect(blanks(withoutOutliers({ time: timeOf(100), torque }).torque)).toEqual([20, 40, 41])
    const drum = Float32Array.from({ length: 100 }, (_, i) => (i === 50 ? 0 : 400 + i))
    expect(blanks(withoutOutliers({ time: timeOf(100), drum }).drum)).toEqual([50])
  })
  it('are not sought among readings by hand, nor without a time', () => {
    const { time, rpm } = sweep({ 20: 9000 })
    expect(withoutOutliers({ time, rpm, handRange: new Float32Array(100) }).rpm).toBe(rpm)
    expect(withoutOutliers({ rpm }).rpm).toBe(rpm)
  })
})

test('channels that have more than a outlier now and then are named, with what to look at', () => {
  const lambda1 = Float32Array.from({ length: 1000 }, (_, i) => (i % 50 === 0 ? 0 : i % 7 ? 0.9 : NaN))
  const { time, rpm } = {
    time: timeOf(1000),
    rpm: Float32Array.from({ length: 1000 }, (_, i) => (i === 500 ? 0 : 3000)),
  }
  const columns = { time, rpm, lambda1 }
  const said = outliersInWords(columns, withoutOutliers(columns))
  expect(said).toEqual([expect.stringMatching(/^Lambda 1: 2\.0 % of the readings cannot be.*Look at the wiring/)])
  expect(outliersInWords(columns, columns)).toEqual([])
  const dead = { ...columns, lambda2: new Float32Array(1000).fill(1.5) }
  expect(outliersInWords(dead, withoutOutliers(dead))[1]).toMatch(/^Lambda 2: its sensor tells nothing.*connected/)
})

describe('a dead sensor of mixture', () => {
  const alive = Float32Array.from({ length: 200 }, (_, i) => 0.9 + 0.01 * Math.sin(i))
  it.each([
    ['0', 0],
    ['free air', 1.5],
    ['its lower end', 0.65],
  ])('that reads %s throughout is blank beside one that tells', (_what, value) => {
    const lambda2 = new Float32Array(200).fill(value)
    const clean = withoutOutliers({ lambda1: alive, lambda2 })
    expect(clean.lambda1).toBe(alive)
    expect(blanks(clean.lambda2)).toHaveLength(200)
  })
  it('stays as it is alone, where it reads what an engine burns, and for a while only', () => {
    const free = new Float32Array(200).fill(1.5)
    expect(withoutOutliers({ lambda1: free }).lambda1).toBe(free)
    const steady = new Float32Array(200).fill(0.93)
    expect(withoutOutliers({ lambda1: alive, lambda2: steady }).lambda2).toBe(steady)
    const overrun = alive.map((value, i) => (i < 150 ? 1.5 : value))
    expect(withoutOutliers({ lambda1: alive, lambda2: overrun }).lambda2).toBe(overrun)
  })
})

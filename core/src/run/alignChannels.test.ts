import { alignChannels } from './alignChannels'
import { runFacts } from './facts'

const of = (...values: (number | null)[]): Float32Array => Float32Array.from(values, (value) => value ?? NaN)

describe('channels that take turns', () => {
  // Two rows a reading: engine speed and plate on the one, the mixture on the other.
  const count = 40
  const time = Float32Array.from({ length: 2 * count }, (_, i) => 0.05 * i)
  const rpm = Float32Array.from(time, (t, i) => (i % 2 ? NaN : 3000 + 400 * t))
  const throttle = Float32Array.from(time, (_, i) => (i % 2 ? NaN : 40))
  const lambda1 = Float32Array.from(time, (_, i) => (i % 2 ? 0.9 + i / 1000 : NaN))
  const gear = Float32Array.from(time, (_, i) => (i === 0 ? 4 : NaN))

  it('are brought to the rows of lambda, with the others drawn in between their readings', () => {
    const even = alignChannels({ time, rpm, throttle, lambda1, gear })
    // The last row has no engine speed after it, the first no mixture.
    expect(even.time).toHaveLength(count + 1)
    expect(even.lambda1.slice(1)).toEqual(lambda1.filter((_, i) => i % 2 === 1))
    even.time.slice(1, -1).forEach((t, k) => expect(even.rpm[k + 1]).toBeCloseTo(3000 + 400 * t, 2))
    expect([...even.gear.slice(0, 40)].every((value) => value === 4)).toBe(true)
    expect(even.rpm.at(-1)).toBeNaN()
  })
  it('tell what a run is', () => {
    expect(runFacts({ time, rpm, throttle, lambda1, gear }, 'sweep')).toMatchObject({ stop: 40, gear: 4 })
  })
  it('are left alone where they do not take turns: a blank now and then is drawn in, and stays where it is long', () => {
    const all = { time: of(0, 0.1, 0.2, 0.3, 2, 2.1), rpm: of(3000, null, 3200, 3300, null, 3500) }
    const even = alignChannels({ ...all, lambda1: of(0.9, 0.9, null, 0.9, 0.9, 0.9) })
    expect(even.rpm[1]).toBeCloseTo(3100, 3)
    expect(even.rpm[4]).toBeNaN()
    expect(even.lambda1).toEqual(of(0.9, 0.9, null, 0.9, 0.9, 0.9))
  })
  it('keep the rows of a time in which the mixture was not read at all', () => {
    const long = Float32Array.from({ length: 20 }, (_, i) => i)
    const even = alignChannels({ time: long, rpm: long, lambda1: Float32Array.from(long, (t) => (t < 15 ? NaN : 0.9)) })
    expect(even.time).toBe(long)
  })
  it('a row without a time lies evenly between those about it', () => {
    const { time: even, rpm: speed } = alignChannels({
      time: of(0, null, null, 0.3, null, 9),
      rpm: of(1, null, 3, 4, 5, 6),
    })
    const expected = [0, 0.1, 0.2, 0.3]
    expected.forEach((t, i) => expect(even[i]).toBeCloseTo(t, 6))
    expect([...even.slice(4)]).toEqual([NaN, 9])
    expect(speed[1]).toBeCloseTo(2, 5)
  })
  it('without a time nothing is drawn in', () => {
    const bare = { rpm: of(1, null, 3), lambda1: of(0.9, null, 0.9) }
    expect(alignChannels(bare)).toBe(bare)
  })
  it('columns without a blank stay as they are', () => {
    const full = { time: of(0, 1), rpm: of(1, 2), lambda1: of(0.9, 0.9) }
    const even = alignChannels(full)
    expect(even.rpm).toBe(full.rpm)
  })
})

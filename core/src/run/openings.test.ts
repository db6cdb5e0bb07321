import type { RunColumns } from './run'
import { findOpenings } from './openings'

/** s from plate to reading. */
const LAG = 0.24
const STEP = 0.05

/**
 * A ride at 20 Hz whose plate follows these marks (s, %) in straight lines; fuel is cut, and read as the sensor's end stop,
 * wherever a cut stands; `spike` is how much leaner air makes it after the last mark but one, where the plate opens.
 */
function ride(marks: [time: number, plate: number][], cuts: [from: number, to: number][], spike = 0): RunColumns {
  const plateAt = (t: number): number => {
    const k = Math.max(
      0,
      marks.findLastIndex(([at]) => at <= t),
    )
    const [[from, low], [to, high]] = [marks[k]!, marks[k + 1] ?? [Infinity, marks[k]![1]]]
    return to === Infinity ? low : low + ((high - low) * (t - from)) / (to - from)
  }
  const opens = marks.at(-2)![0]
  const lambdaAt = (t: number): number => {
    if (cuts.some(([from, to]) => t >= from && t < to)) return 1.36
    return 0.94 * (t > opens ? 1 + spike * Math.exp(-(t - opens) / 0.2) : 1)
  }
  const time = Float32Array.from({ length: 120 }, (_, k) => k * STEP)
  return {
    id: 'ride',
    time,
    rpm: time.map(() => 4000),
    throttle: time.map(plateAt),
    lambda: [time.map((t) => lambdaAt(t - LAG))],
  }
}

describe('quick openings of the throttle', () => {
  it('are told by the spike that follows', () => {
    const [one, ...more] = findOpenings(ride([[0, 8], [3, 8], [3.1, 40]], [], 0.2)) // oxfmt-ignore
    expect(more).toEqual([])
    expect(Math.abs(one!.lag - LAG)).toBeLessThan(STEP)
    expect(one!.flow).toBeCloseTo(4000 * 40, -2)
  })
  it('a gear changed with the plate shut for a moment is none: what reads lean then is the cut that ended', () => {
    const shift = ride([[0, 30], [2.9, 30], [3, 1], [3.3, 1], [3.4, 30]], [[3, 3.31]]) // oxfmt-ignore
    expect(findOpenings(shift)).toEqual([])
  })
  it('nor one from a plate all but shut, where fuel was cut and came back', () => {
    const ajar = ride([[0, 1], [3, 1], [3.1, 25]], [[2.8, 3.02]]) // oxfmt-ignore
    expect(findOpenings(ajar)).toEqual([])
    // As lean as that from a plate that stands open is air.
    expect(findOpenings(ride([[0, 12], [3, 12], [3.1, 60]], [], 0.4))).toHaveLength(1) // oxfmt-ignore
  })
})

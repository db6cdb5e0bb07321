import { random } from '../../../trials/knownTruthLog'
import type { RunColumns } from '../../run/run'
import { gripByGear, gripByMode } from './gripsApart'
import { testRun } from '../testRun'

const HANDS = [2, 5, 10, 20, 35, 50, 70, 90]
/** A log of slow steps of the hand at one speed, with gauge noise; the plate goes as said. */
function steps(seed: number, plateAt: (hand: number) => number, channel: 'mode' | 'gear', of: number): RunColumns {
  const next = random(seed)
  const handAt = (t: number): number => HANDS[Math.min(HANDS.length - 1, Math.floor(t / 4))]!
  const run = testRun(4 * HANDS.length, (t) => ({
    rpm: 4000 + 20 * Math.sin(t),
    throttle: plateAt(handAt(t)) + 0.2 * (next() - 0.5),
    lambda: 0.9,
  }))
  return {
    ...run,
    id: `${channel} ${of} ${seed}`,
    grip: run.time.map(handAt),
    [channel]: new Float32Array(run.time.length).fill(of),
  }
}
const hand = (grip: number): number => grip
const softer = (grip: number): number => 0.6 * grip

describe('maps of the grip side by side', () => {
  it("of two modes are each mode's own, and how far they lie apart is said", () => {
    const { maps, text } = gripByMode([
      ...[1, 2].map((seed) => steps(seed, hand, 'mode', 1)),
      ...[3, 4].map((seed) => steps(seed, softer, 'mode', 2)),
    ])
    expect(maps.map((one) => one.of)).toEqual([1, 2])
    for (const { of, grip } of maps) {
      const column = grip.rpm.indexOf(4000)
      for (const [g, at] of grip.grip.entries()) {
        const plate = grip.plate[g]![column]
        if (plate != null) expect(Math.abs(plate - (of === 1 ? at : 0.6 * at))).toBeLessThan(1)
      }
    }
    // 40 % of the largest grip read at both.
    expect(text).toMatch(/^Modes 1 and 2 lie up to 36 % of plate apart, at 90 % of grip/)
  })
  it('of modes alike are shown as well, for a rider changes between them', () => {
    const { maps, text } = gripByMode([steps(1, hand, 'mode', 1), steps(2, hand, 'mode', 3)])
    expect(maps).toHaveLength(2)
    expect(text).toBe('Modes 1, 3 move the plate alike, within 2 %.')
  })
  it('of five modes are those of the four most run in', () => {
    const runs = [1, 2, 3, 4, 5].flatMap((mode) =>
      Array.from({ length: mode === 2 ? 1 : 2 }, (_, k) => steps(10 * mode + k, hand, 'mode', mode)),
    )
    expect(gripByMode(runs).maps.map((one) => one.of)).toEqual([1, 3, 4, 5])
  })
  it('of gears are none where the gear does not matter', () => {
    const alike = [steps(1, hand, 'gear', 2), steps(2, hand, 'gear', 4)]
    expect(gripByGear(alike)).toEqual({ maps: [], text: 'No gear dependence of the plate: any gear will do.' })
    const apart = gripByGear([steps(1, softer, 'gear', 2), steps(2, hand, 'gear', 4)])
    expect(apart.maps.map((one) => one.of)).toEqual([2, 4])
    expect(apart.text).toContain('Gears 2 and 4 lie up to 36 % of plate apart')
  })
  it('are none of one mode, or without the channel', () => {
    expect(gripByMode([steps(1, hand, 'mode', 1)])).toEqual({ maps: [], text: '' })
    expect(gripByGear([steps(1, hand, 'mode', 1)])).toEqual({ maps: [], text: '' })
  })
})

import { passGears, type PassColumns } from './passGears'

/** A pass of two gears at 20 Hz: 4 s in first, 4 s in second, after 2 s of standing; two probes of which the right one is lean. */
function pass(over: Partial<PassColumns> = {}): PassColumns {
  const n = 200
  const time = Float32Array.from({ length: n }, (_, k) => k / 20)
  const at = (k: number): number => Math.max(0, time[k]! - 2)
  const speed = time.map((_, k) => 15 * at(k))
  // rpm per km/h of each gear: 120 in first, 75 in second.
  const rpm = speed.map((v, k) => Math.max(3000, (at(k) < 4 ? 120 : 75) * v))
  return {
    time,
    rpm,
    speed,
    throttle: time.map((_, k) => (time[k]! < 2 ? 0 : 100)),
    gear: time.map((_, k) => (at(k) < 4 ? 1 : 2)),
    lambda: [0.86, 0.94].map((one) => time.map((_, k) => one + 0.002 * Math.sin(3 * k))),
    ...over,
  }
}
const SPAN = { from: 2, to: 10, lifted: false }
const AT = { lag: 0, wantedAt: () => 0.87 }

describe('gears of a pass', () => {
  it('count the leanest of the probes, not their mean', () => {
    const told = passGears(pass(), SPAN, AT)
    expect(told.map((one) => one.gear)).toEqual([1, 2])
    for (const one of told) {
      expect(one.lambda).toBeCloseTo(0.94, 3)
      // 0.94 / 0.87: so much more fuel is wanted.
      expect(one.wantedPct).toBeCloseTo(100 * (0.94 / 0.87 - 1), 1)
      expect(one.low!).toBeLessThan(0.9405)
      expect(one.high!).toBeGreaterThan(0.9395)
    }
  })

  it('are told from the fall of engine speed where no channel tells them', () => {
    const told = passGears(pass({ gear: undefined }), SPAN, AT)
    expect(told).toHaveLength(2)
    expect(told[0]!.toS).toBeGreaterThan(5.8)
    expect(told[0]!.toS).toBeLessThan(6.4)
  })

  it('tell spin by the engine turning faster than the gear does where it grips', () => {
    const columns = pass()
    // Between 3.5 and 4.2 s the tyre spins by a fifth.
    const rpm = columns.rpm.map((one, k) => (columns.time[k]! > 4 && columns.time[k]! < 4.7 ? 1.2 * one : one))
    const [first, second] = passGears({ ...columns, rpm }, SPAN, AT)
    expect(first!.spinPct).toBeCloseTo(20, 0)
    expect(second!.spinPct).toBeLessThan(1)
  })

  it('end where the pass was shut, and without a probe tell no mixture', () => {
    const columns = pass()
    const throttle = columns.throttle!.map((one, k) => (columns.time[k]! > 8 ? 0 : one))
    const told = passGears({ ...columns, throttle, lambda: [] }, { ...SPAN, lifted: true }, AT)
    expect(told.at(-1)!.toS).toBeLessThanOrEqual(8.01)
    expect(told.map((one) => [one.lambda, one.wantedPct])).toEqual([
      [null, null],
      [null, null],
    ])
  })

  it('take the lag of the probe out: what it tells late belongs to the gear before', () => {
    const columns = pass()
    // Each gear has a mixture of its own, told 0.5 s late.
    const lambda = [columns.time.map((one, k) => (one < 6.5 ? 0.85 : 0.95) + 0.001 * Math.sin(3 * k))]
    const [first, second] = passGears({ ...columns, lambda }, SPAN, { ...AT, lag: 0.5 })
    expect(first!.lambda).toBeCloseTo(0.85, 3)
    expect(second!.lambda).toBeCloseTo(0.95, 3)
  })
})

import { coastAfter, resistance } from './coastDown'

/** Slowing down from 36 m/s with the clutch in, 40 N of rolling and 0.3 N per (m/s)^2 on 250 kg, read at 20 Hz. */
function coasting(clutchIn = true) {
  const rows: [number, number, number, number][] = []
  let v = 36
  for (let t = 0; v > 12; t += 0.05) {
    rows.push([t, clutchIn ? 1500 : v * 250, 1, v * 3.6])
    v -= ((40 + 0.3 * v * v) / 250) * 0.05
  }
  const [time, rpm, throttle, speed] = [0, 1, 2, 3].map((k) => Float32Array.from(rows, (row) => row[k]!)) as [
    Float32Array,
    Float32Array,
    Float32Array,
    Float32Array,
  ]
  return { time, rpm, throttle, speed }
}
const RATIO = 1 / 250

describe('a coast-down', () => {
  it('tells rolling and drag as they were put in, at speeds between its readings', () => {
    const coast = coastAfter(coasting(), 0, RATIO)!
    const forces = coast.readings.map(({ v, slope }) => ({ run: 0, v, force: -250 * slope }))
    const held = resistance(forces, 1, 250)
    expect(held.isTold).toBe(true)
    for (const v of [14.3, 22.7, 33.1]) {
      const truth = 40 + 0.3 * v * v
      expect(Math.abs(held.at(0, v) / truth - 1)).toBeLessThan(0.01)
      expect(held.doubt(v)).toBeLessThan(0.02 * truth)
    }
  })

  it('is none while the engine holds the road back, nor where part of it was left out', () => {
    expect(coastAfter(coasting(false), 0, RATIO)).toBeNull()
    expect(coastAfter({ ...coasting(), without: [{ from: 5, to: 5.5 }] }, 0, RATIO)).toBeNull()
    expect(coastAfter({ ...coasting(), without: [{ from: 900, to: 901 }] }, 0, RATIO)).not.toBeNull()
  })

  it('that only one of two runs holds is not taken for both: usual figures stand, with their doubt', () => {
    const held = resistance([{ run: 0, v: 20, force: 160 }], 2, 250)
    expect(held.isTold).toBe(false)
    // 0.15 N a kg and 0.36 N per (m/s)^2, by three tenths unsure (common practice).
    expect(held.at(1, 20)).toBeCloseTo(0.15 * 250 + 0.36 * 400, 6)
    expect(held.doubt(20)).toBeCloseTo(0.3 * (0.15 * 250 + 0.36 * 400), 6)
  })
})

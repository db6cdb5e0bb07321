import { seededRandom } from '../src/numbers/random'
import { STRIP_MARKS, USUAL_RULES } from '../src/strip/marks'
import { passesIn } from '../src/strip/passesIn'

/**
 * A strip by forces: the tyre holds so much, the engine has so much power, gears are changed with a pause, air drags. Moved in
 * steps of half a millisecond; its times and speeds are read off there, not from the log.
 */
function ride(seed: number, { lifts = Infinity, seconds = 30 } = {}) {
  const { uniform, normal } = seededRandom(seed)
  const between = (a: number, b: number): number => a + (b - a) * uniform()
  const [mass, power, grip] = [between(190, 330), between(25_000, 95_000), between(4, 8.5)]
  const [drag, clutch, pause] = [between(0.2, 0.45), between(0.1, 0.5), between(0.06, 0.25)]
  const shifts = [between(12, 16), between(22, 27), between(32, 38), between(42, 48)]
  const stands = between(2, 6)
  const STEP = 0.0005
  let [t, v, s, shifting, gear] = [0, 0, 0, -1, 0]
  const truth: { t: number; v: number; s: number; throttle: number }[] = []
  while (t < stands + seconds) {
    const on = t - stands
    const isLifted = s > lifts
    let throttle = 0
    let a = 0
    if (on > 0) {
      if (shifting < 0 && gear < shifts.length && v > shifts[gear]!) shifting = on
      const isShifting = shifting >= 0 && on - shifting < pause
      if (shifting >= 0 && !isShifting) [shifting, gear] = [-1, gear + 1]
      throttle = isLifted || s > 430 ? 1 : isShifting ? 30 : 100
      const pull = throttle < 100 ? 0 : Math.min(grip * Math.min(1, on / clutch), power / mass / Math.max(v, 1))
      a = pull - (drag * v * v) / mass - (throttle === 1 && v > 0 ? 1.5 : 0)
    }
    if (truth.length === 0 || on > 0 || Math.round(t / STEP) % 20 === 0) truth.push({ t, v, s, throttle })
    s += v * STEP + (a * STEP * STEP) / 2
    v = Math.max(0, v + a * STEP)
    t += STEP
  }
  const at = (distance: number): number | null => {
    const k = truth.findIndex((one) => one.s >= distance)
    if (k < 1) return null
    const [a, b] = [truth[k - 1]!, truth[k]!]
    return a.t + ((b.t - a.t) * (distance - a.s)) / (b.s - a.s)
  }
  const starts = at(USUAL_RULES.rolloutM)!
  const splits = STRIP_MARKS.map((mark) => {
    const [then, enters] = [at(mark), mark > USUAL_RULES.trapM ? at(mark - USUAL_RULES.trapM) : null]
    return {
      timeS: then === null ? null : then - starts,
      speedKmh: then === null || enters === null ? null : (3.6 * USUAL_RULES.trapM) / (then - enters),
    }
  })
  return { truth, splits, normal, uniform }
}

/** What a log of it shows: so many rows a second, a dead band, noise, steps of a tenth. */
function logOf({ truth, normal, uniform }: ReturnType<typeof ride>, hz: number, deadKmh: number, noise: number) {
  const [time, speed, throttle]: [number[], number[], number[]] = [[], [], []]
  const offset = uniform() / hz
  let k = 0
  for (let t = offset; t < truth.at(-1)!.t; t += 1 / hz) {
    while (truth[k]!.t < t) k++
    const kmh = 3.6 * truth[k]!.v
    time.push(t)
    speed.push(kmh < deadKmh ? 0 : Math.max(0, Math.round(10 * (kmh + noise * normal())) / 10))
    throttle.push(truth[k]!.throttle)
  }
  return {
    time: Float32Array.from(time),
    speed: Float32Array.from(speed),
    throttle: Float32Array.from(throttle),
  }
}

describe('passes at the strip, from ten readings of speed a second', () => {
  it.each([
    ['a clean speed', 10, 0, 0],
    ['noise of 0.2 km/h', 10, 0, 0.2],
    ['nothing below 5 km/h', 10, 5, 0.2],
    ['twenty a second', 20, 3, 0.3],
  ] as const)('%s: times within 0.05 s, speeds within 0.5 km/h', (_name, hz, dead, noise) => {
    let [worstTime, worstSpeed, passes] = [0, 0, 0]
    for (let seed = 1; seed <= 40; seed++) {
      const one = ride(seed)
      const [pass] = passesIn(logOf(one, hz, dead, noise))
      expect(pass).toBeDefined()
      expect(pass!.lifted).toBe(false)
      for (const [k, { timeS, speedKmh }] of one.splits.entries()) {
        if (timeS === null) continue
        passes++
        worstTime = Math.max(worstTime, Math.abs(pass!.splits[k]!.timeS - timeS))
        if (speedKmh !== null) worstSpeed = Math.max(worstSpeed, Math.abs(pass!.splits[k]!.speedKmh! - speedKmh))
      }
    }
    expect(passes).toBeGreaterThan(150)
    expect(worstTime).toBeLessThan(0.05)
    expect(worstSpeed).toBeLessThan(0.5)
  })

  it('one that was shut at 250 m says so, and where', () => {
    const [pass] = passesIn(logOf(ride(3, { lifts: 250 }), 10, 0, 0.1))
    expect(pass!.lifted).toBe(true)
    expect(Math.abs(pass!.liftedAtM! - 250)).toBeLessThan(8)
  })

  it('a speed of nought throughout holds none, nor a turn at walking pace', () => {
    const time = Float32Array.from({ length: 600 }, (_, k) => k / 10)
    expect(passesIn({ time, speed: new Float32Array(600) })).toEqual([])
    expect(passesIn({ time, speed: time.map((t) => (t > 20 ? 9 + Math.sin(t) : 0)) })).toEqual([])
  })
})

/**
 * Proof on known truth: free driving made by a generator of its own, that shares nothing with the simulator: what was driven is
 * written down as it is driven.
 */
import { seededRandom } from '../src/numbers/random'
import { stretchesOf, type StretchKind } from '../src/run/stretches'
import { seeds } from './seeds'

interface Driven {
  kind: StretchKind
  from: number
  to: number
}

/** A ride of some minutes: idle, sweeps, holds, openings that are taken back, overruns; what each was, s. */
function ride(seed: number): { time: Float32Array; rpm: Float32Array; throttle: Float32Array; truth: Driven[] } {
  const { uniform, normal } = seededRandom(seed)
  const hz = [10, 20, 25, 50, 100][seed % 5]!
  const [time, rpm, throttle]: [number[], number[], number[]] = [[], [], []]
  const truth: Driven[] = []
  const between = (a: number, b: number): number => a + (b - a) * uniform()
  let [speed, plate] = [1400, 1]
  let clock = 0
  const row = (): void => {
    time.push(clock)
    rpm.push(speed + 15 * normal())
    throttle.push(Math.min(100, Math.max(0, plate + 0.25 * normal())))
    clock += 1 / hz
  }
  /** Moves the throttle, speed following a little. */
  const move = (to: number, seconds: number, slope: number): void => {
    const from = plate
    const began = clock
    while (clock < began + seconds) {
      plate = from + ((to - from) * (clock - began)) / seconds
      speed += slope / hz
      row()
    }
    plate = to
  }
  const run = (seconds: number, slope: () => number): void => {
    const began = clock
    while (clock < began + seconds) {
      speed += slope() / hz
      row()
    }
  }
  const idle = (seconds: number): void => {
    plate = 1
    speed = 1400
    const began = clock
    run(seconds, () => (1400 - speed) * 2)
    truth.push({ kind: 'idle', from: began, to: clock })
  }
  const shut = (): number => {
    const began = clock
    move(1, between(0.1, 0.3), -500)
    return began
  }
  const overrun = (seconds: number): void => {
    const began = clock
    run(seconds, () => -speed * 0.12)
    truth.push({ kind: 'overrun', from: began, to: clock })
  }
  idle(4)
  speed = 2600
  for (let n = 0; n < 14; n++) {
    const what = uniform()
    const opened = between(25, 100)
    const began = clock
    move(opened, between(0.08, 0.35), 300)
    const still = clock
    if (what < 0.4) {
      speed = Math.min(speed, 4500)
      const seconds = between(3, 8)
      const top = speed + between(2500, 5000)
      const gain = (top - speed) / seconds
      run(seconds, () => gain)
      truth.push(
        { kind: 'sweep', from: still, to: clock },
        { kind: 'roll-on', from: began, to: Math.min(clock, began + 2) },
      )
    } else if (what < 0.7) {
      // The hand takes some back, then holds a speed.
      run(between(0.6, 1.2), () => 350)
      truth.push({ kind: 'roll-on', from: began, to: Math.min(clock, began + 2) })
      move(between(10, 20), 0.3, 100)
      const held = clock
      const at = speed
      run(between(3, 7), () => (at - speed) * 3 + 40 * normal())
      truth.push({ kind: 'hold', from: held, to: clock })
    } else {
      run(between(0.7, 1.8), () => 450)
      truth.push({ kind: 'roll-on', from: began, to: Math.min(clock, began + 2) })
    }
    const chop = shut()
    overrun(between(1.5, 4))
    truth.push({ kind: 'chop', from: chop, to: Math.min(clock, chop + 2) })
    if (speed < 2400) speed = 2400
  }
  return {
    time: Float32Array.from(time),
    rpm: Float32Array.from(rpm),
    throttle: Float32Array.from(throttle),
    truth,
  }
}

/** s by which the ends may lie apart; a log at ten rows a second tells a tenth at the best. */
const ENDS = 0.3
const overlap = (a: Driven, b: Driven): number =>
  (Math.min(a.to, b.to) - Math.max(a.from, b.from)) / (Math.max(a.to, b.to) - Math.min(a.from, b.from))

const KINDS: readonly StretchKind[] = ['sweep', 'hold', 'roll-on']

it('of sweeps, holds and openings in free driving 95 of 100 are found, at most 3 of 100 are none, and their ends are right', () => {
  let [driven, found, told, wrong, ends] = [0, 0, 0, 0, 0]
  for (const seed of seeds(20, 5)) {
    const { time, rpm, throttle, truth } = ride(300 + seed)
    const stretches = stretchesOf(time, rpm, throttle).filter((one) => KINDS.includes(one.kind))
    const wanted = truth.filter((one) => KINDS.includes(one.kind))
    driven += wanted.length
    told += stretches.length
    for (const one of wanted) {
      const best = stretches
        .filter((other) => other.kind === one.kind)
        .reduce<Driven | null>((a, b) => (a && overlap(one, a) >= overlap(one, b) ? a : b), null)
      if (!best || overlap(one, best) < 0.5) continue
      found++
      if (Math.abs(best.from - one.from) <= ENDS && Math.abs(best.to - one.to) <= ENDS) ends++
    }
    wrong += stretches.filter(
      (one) => !wanted.some((other) => other.kind === one.kind && overlap(one, other) >= 0.5),
    ).length
  }
  expect(found).toBeGreaterThanOrEqual(0.95 * driven)
  expect(wrong).toBeLessThanOrEqual(0.03 * told)
  expect(ends).toBeGreaterThanOrEqual(0.95 * found)
})

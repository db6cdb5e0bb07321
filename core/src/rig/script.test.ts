import { DEFAULT_LIVE, liveRig, type LiveRig } from '../simulator/liveRig'
import type { RigSample } from './sample'
import { CURLEW_437, rigFor, STOCK_BREATHING } from '../simulator/machines'
import { guessKind } from '../run/runKind'
import { runFacts } from '../run/facts'
import { alarmsOf, DEFAULT_AIM, DEFAULT_SAFETY, leanLimit, safetyWatch, type Stop } from './safety'
import { scriptDriver } from './script'
import { kindOfScript, type RunScript } from './runScript'

const warm = (over = {}, breathing = STOCK_BREATHING): LiveRig =>
  liveRig(rigFor(CURLEW_437, breathing), { ...DEFAULT_LIVE, coolant: 84, ...over })

/** Runs a script on a rig at 50 Hz; what was recorded, and how long it took. */
function run(
  live: LiveRig,
  script: RunScript,
  most = 240,
): { recorded: RigSample[]; seconds: number; done: boolean; note: string } {
  const driver = scriptDriver(script)
  let note = ''
  const recorded: RigSample[] = []
  for (let k = 0; k < most * 50; k++) {
    live.step(0.02)
    const sample = live.sample()
    const { controls, state } = driver.next(sample)
    Object.assign(live.controls, controls)
    note = state.note
    if (state.recording) recorded.push(sample)
    if (state.phase === 'done') return { recorded, seconds: k / 50, done: true, note }
  }
  return { recorded, seconds: most, done: false, note }
}
const column = (samples: RigSample[], of: (sample: RigSample) => number): Float32Array => Float32Array.from(samples, of)

describe('scripts drive the rig', () => {
  it.each([10, 40, 100])('a sweep at %i %% becomes a run that is one, over its span', (stop) => {
    const script = { kind: 'sweep', stop, fromRpm: 2500, toRpm: stop < 20 ? 6000 : 9000, rate: 800, gear: 4 } as const
    const { recorded, done } = run(warm(), script)
    expect(done).toBe(true)
    const columns = {
      time: column(recorded, (one) => one.time),
      rpm: column(recorded, (one) => one.rpm),
      throttle: column(recorded, (one) => one.throttle),
    }
    expect(guessKind(columns.time, columns.rpm, columns.throttle)).toBe('sweep')
    const facts = runFacts(columns, 'sweep')
    expect(Math.abs(facts.stop! - stop)).toBeLessThan(1.5)
    expect(facts.fromRpm).toBeLessThan(2900)
    expect(facts.toRpm).toBeGreaterThan(script.toRpm - 250)
  })
  it('full throttle tells of the lowest speeds, too: the brake holds the start until the mixture has settled', () => {
    const script = { kind: 'sweep', stop: 100, fromRpm: 2500, toRpm: 9000, rate: 800, gear: 4 } as const
    const { recorded } = run(warm(), script)
    const { settledFromRpm, settledToRpm, settled } = runFacts(
      {
        time: column(recorded, (one) => one.time),
        rpm: column(recorded, (one) => one.rpm),
        throttle: column(recorded, (one) => one.throttle),
        lambda1: column(recorded, (one) => one.lambda[0]!),
      },
      'sweep',
    )
    expect(settled).toBeGreaterThan(200)
    expect(settledFromRpm).toBeLessThan(2650)
    expect(settledToRpm).toBeGreaterThan(8700)
  })
  it('a hold stays at its point', () => {
    const { recorded } = run(warm(), { kind: 'hold', stop: 40, rpm: 5000, seconds: 6, gear: 4 })
    const there = recorded.slice(100, 290).map((one) => one.rpm)
    expect(Math.max(...there.map((rpm) => Math.abs(rpm - 5000)))).toBeLessThan(150)
  })
  it('a roll-on opens from a steady point and gains speed', () => {
    const script = { kind: 'roll-on', fromRpm: 4000, fromStop: 12, stop: 100, seconds: 4, gear: 4 } as const
    const { recorded } = run(warm(), script)
    expect(Math.abs(recorded[0]!.rpm - 4000)).toBeLessThan(200)
    expect(Math.max(...recorded.map((one) => one.rpm))).toBeGreaterThan(5500)
  })
  it('spark steps go through their offsets', () => {
    const script = { kind: 'spark step', stop: 60, rpm: 5000, offsets: [-4, 0, 4], seconds: 3, gear: 4 } as const
    const { recorded } = run(warm(), script)
    const at = (second: number): number => recorded[Math.round(second * 50)]!.spark
    expect(at(4.5) - at(1.5)).toBeCloseTo(4, 0)
    expect(at(7.5) - at(4.5)).toBeCloseTo(4, 0)
  })
  it('spark steps are given up at knock, long before it would stop the run', () => {
    const offsets = [0, -6, 3, 6, 9, 12, 15, 0]
    const script = { kind: 'spark step', stop: 100, rpm: 4500, offsets, seconds: 3, gear: 4 } as const
    const { recorded, note } = run(warm(), script)
    const [base] = recorded.slice(100).map((one) => one.spark)
    expect(Math.max(...recorded.map((one) => one.spark)) - base!).toBeLessThan(14)
    expect(Math.max(...recorded.map((one) => one.knock))).toBeLessThan(DEFAULT_SAFETY.knock)
    expect(note).toMatch(/knock at \+\d+ °: nothing further is tried/)
  })
  it('mixture steps go through their fuel, and come back to what the tables ask for', () => {
    const script = { kind: 'mixture step', stop: 60, rpm: 5000, offsets: [0, 10, -5, 0], seconds: 4, gear: 4 } as const
    const { recorded } = run(warm(), script)
    const at = (second: number): number => recorded[Math.round(second * 50)]!.lambda[0]!
    expect(at(3.5) / at(7.5)).toBeCloseTo(1.1, 1)
    expect(at(11.5) / at(3.5)).toBeCloseTo(1 / 0.95, 1)
    expect(at(15.5) / at(3.5)).toBeCloseTo(1, 1)
  })
  it('a warm-up ends at its temperature and records nothing', () => {
    const live = warm({ coolant: 55 })
    const { recorded, done } = run(live, { kind: 'warm-up', coolantC: 75 }, 900)
    expect(done).toBe(true)
    expect(recorded).toEqual([])
    expect(live.sample().coolant).toBeGreaterThan(73)
    expect(kindOfScript({ kind: 'warm-up', coolantC: 75 })).toBeNull()
  })
})

describe('what stops a run by itself', () => {
  const watch = (
    live: LiveRig,
    seconds: number,
    limits = DEFAULT_SAFETY,
    change?: (one: RigSample) => RigSample,
  ): Stop | null => {
    const safety = safetyWatch(limits)
    for (let k = 0; k < seconds * 50; k++) {
      live.step(0.02)
      const sample = live.sample()
      const stop = safety.see(change ? change(sample) : sample)
      if (stop) return stop
    }
    return null
  }
  const atLoad = (over = {}): LiveRig => {
    const live = warm()
    Object.assign(live.controls, {
      ignition: true,
      fuel: true,
      gear: 4,
      throttle: 100,
      brake: { kind: 'hold', rpm: 5000 },
      ...over,
    })
    return live
  }
  it('nothing, on a sound engine, through tip-in and all', () => {
    expect(watch(atLoad(), 20)).toBeNull()
  })
  it('lean at load that lasts, not a spike', () => {
    const lean = (one: RigSample): RigSample => ({ ...one, lambda: [1.15] })
    expect(watch(atLoad(), 20, DEFAULT_SAFETY, (one) => (one.time > 8 && one.time < 8.1 ? lean(one) : one))).toBeNull()
    const stop = watch(atLoad(), 20, DEFAULT_SAFETY, (one) =>
      one.time > 8 ? { ...lean(one), lambda: [1.15 + one.time * 1e-4] } : one,
    )
    expect(stop).toMatchObject({ reason: 'lean at load' })
    expect(stop!.text).toMatch(/lambda 1.15 at 100 %, 5\s\d+ rpm; the limit is 0.96, 1.08 times the target of 0.88/)
  })
  it('lean is told by the target: what is let pass at half throttle is not wide open, nor where the engine is blown', () => {
    const limit = (throttle: number, aim = DEFAULT_AIM, manifold?: number): number | null =>
      leanLimit(DEFAULT_SAFETY, aim, { ...sound, throttle, ...(manifold && { manifold }) })
    const sound = { time: 0, rpm: 5000, lambda: [0.9] } as RigSample
    expect(limit(100)).toBeCloseTo((1.08 * 13) / 14.7, 9)
    expect(limit(50)).toBeCloseTo((1.08 * 13.6) / 14.7, 9)
    expect(limit(40)).toBeNull()
    expect(limit(100, DEFAULT_AIM, 130)).toBeCloseTo((1.05 * 13) / 14.7, 9)
    expect(limit(100, { ...DEFAULT_AIM, isBoosted: true })).toBeCloseTo((1.05 * 13) / 14.7, 9)
    expect(limit(100, { ...DEFAULT_AIM, target: { preset: 'boost-11.3', zones: [] } })).toBeCloseTo(
      (1.08 * 11.3) / 14.7,
      9,
    )
    const zone = { fromRpm: 0, toRpm: 20_000, fromLoad: 0, toLoad: 100, lambda: 1.4 }
    expect(limit(100, { ...DEFAULT_AIM, target: { preset: 'road-13.0', zones: [zone] } })).toBeCloseTo(1.08 * 0.95, 9)
  })
  it('what is an alarm to the eye is what stops the run when it lasts', () => {
    const sample = { time: 0, rpm: 5000, throttle: 100, lambda: [0.9, 0.97], knock: 3.1, coolant: 115 } as RigSample
    expect(alarmsOf(DEFAULT_SAFETY, DEFAULT_AIM, sample)).toEqual({
      lean: [false, true],
      knock: true,
      coolant: false,
      rpm: false,
    })
  })
  it('knock', () => {
    expect(watch(atLoad({ sparkOffset: 18 }), 20)).toMatchObject({ reason: 'knock' })
  })
  it('heat and speed', () => {
    expect(watch(atLoad({ fan: false }), 400, { ...DEFAULT_SAFETY, coolantC: 100 })).toMatchObject({
      reason: 'over temperature',
    })
    expect(watch(atLoad({ brake: { kind: 'off' } }), 60, { ...DEFAULT_SAFETY, rpm: 9000 })).toMatchObject({
      reason: 'over speed',
    })
  })
  it('a sensor that is lost, pinned or silent', () => {
    expect(
      watch(atLoad(), 20, DEFAULT_SAFETY, (one) => (one.time > 6 ? { ...one, lambda: [NaN] } : one)),
    ).toMatchObject({ reason: 'sensor lost' })
    expect(
      watch(atLoad(), 20, DEFAULT_SAFETY, (one) => (one.time > 6 ? { ...one, lambda: [0.9] } : one)),
    ).toMatchObject({ reason: 'sensor lost' })
  })
})

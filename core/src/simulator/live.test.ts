import { inertiaAtCrank, stepDrive, type DriveState } from './drive'
import { DEFAULT_LIVE, DRUM_DRIVE, liveRig, type LiveRig } from './liveRig'
import { CURLEW_437, OPEN_SILENCER, rigFor, STOCK_BREATHING } from './machines'
import { steadyLambda } from './rig'
import { advanceEfficiency, bestAdvance, knockAdvance } from './spark'
import { stepThermal } from './thermal'

const RAD = Math.PI / 30

describe('spark', () => {
  it('best advance rises with speed, falls with filling, and slow mixtures want more', () => {
    expect(bestAdvance(8000, 0.9, 0.9)).toBeGreaterThan(bestAdvance(2000, 0.9, 0.9))
    expect(bestAdvance(4000, 0.3, 0.9)).toBeGreaterThan(bestAdvance(4000, 0.9, 0.9))
    expect(bestAdvance(4000, 0.9, 1.1)).toBeGreaterThan(bestAdvance(4000, 0.9, 0.9))
  })
  it('torque is flat near best and loses about 5 % at 10 degrees (Heywood ch. 15, from memory)', () => {
    expect(advanceEfficiency(2)).toBeGreaterThan(0.997)
    expect(advanceEfficiency(10)).toBeCloseTo(0.95, 2)
    expect(advanceEfficiency(-10)).toBe(advanceEfficiency(10))
  })
  it('knock comes earlier with filling, heat, lean mixture and a poorer fuel', () => {
    const mild = { rpm: 5000, filling: 0.8, lambda: 0.88, coolantC: 85, intakeC: 25, ron: 95 }
    const begins = knockAdvance(mild)
    for (const harsher of [{ filling: 1 }, { coolantC: 115 }, { intakeC: 60 }, { lambda: 1.05 }, { ron: 91 }])
      expect(knockAdvance({ ...mild, ...harsher })).toBeLessThan(begins)
  })
})

describe('drum', () => {
  it('takes up the energy that the torque puts in: P = J w dw/dt by hand', () => {
    const state: DriveState = { rpm: 3000, gear: 4, brake: { kind: 'off' }, setpoint: 0, integral: 0 }
    const inertia = inertiaAtCrank(DRUM_DRIVE, 4)
    expect(inertia).toBeCloseTo(0.024 + 3.4 / 2.5 ** 2, 9)
    let work = 0
    for (let k = 0; k < 2000; k++) {
      const before = state.rpm
      stepDrive(DRUM_DRIVE, state, 35, 0.001)
      work += 35 * ((before + state.rpm) / 2) * RAD * 0.001
    }
    const gained = 0.5 * inertia * ((state.rpm * RAD) ** 2 - (3000 * RAD) ** 2)
    expect(gained / work).toBeCloseTo(1, 3)
  })
  it('the brake holds a speed against the engine, never drives it', () => {
    const state: DriveState = { rpm: 5200, gear: 4, brake: { kind: 'hold', rpm: 5000 }, setpoint: 5000, integral: 0 }
    let braked = 0
    for (let k = 0; k < 20000; k++) braked = stepDrive(DRUM_DRIVE, state, 35, 0.002)
    expect(state.rpm).toBeCloseTo(5000, 0)
    expect(braked).toBeCloseTo(35, 1)
    state.brake = { kind: 'hold', rpm: 7000 }
    expect(stepDrive(DRUM_DRIVE, state, -5, 0.002)).toBe(0)
  })
})

it('coolant follows the closed form of one lump with a fixed loss while the thermostat is shut', () => {
  const thermal = { coolantC: 20 }
  for (let k = 0; k < 60_000; k++) stepThermal(thermal, 5000, 20, false, 0.001)
  const rise = (0.24 * 5000) / 6
  expect(thermal.coolantC).toBeCloseTo(20 + rise * (1 - Math.exp((-6 * 60) / 14_000)), 2)
})

describe('the live rig', () => {
  const started = (over = {}, seed = 1): LiveRig => {
    const live = liveRig(rigFor(CURLEW_437, STOCK_BREATHING), { ...DEFAULT_LIVE, coolant: 85, ...over }, seed)
    Object.assign(live.controls, { ignition: true, fuel: true })
    live.step(4)
    return live
  }
  it('starts, idles near 1,500 rpm in neutral, and stops when the ignition is cut', () => {
    const live = started()
    live.step(10)
    expect(Math.abs(live.sample().rpm - 1500)).toBeLessThan(250)
    live.controls.ignition = false
    live.step(5)
    expect(live.sample().rpm).toBeLessThan(60)
  })
  it('holds a point under load, and the wideband shows what the engine gets there', () => {
    const live = started()
    Object.assign(live.controls, { gear: 4, throttle: 60, brake: { kind: 'hold', rpm: 6000 } })
    live.step(14)
    const samples = Array.from({ length: 100 }, () => (live.step(0.02), live.sample()))
    const mean = (of: (k: number) => number): number => samples.reduce((sum, _, k) => sum + of(k), 0) / samples.length
    expect(mean((k) => samples[k]!.rpm)).toBeCloseTo(6000, -2)
    const rig = rigFor(CURLEW_437, STOCK_BREATHING)
    expect(mean((k) => samples[k]!.lambda[0]!)).toBeCloseTo(steadyLambda(rig, 0, 6000, 60), 2)
    expect(mean((k) => samples[k]!.torque)).toBeGreaterThan(20)
    expect(samples[0]!.drum).toBeCloseTo(6000 / 2.5, -2)
  })
  it('sweeps with the brake at the rate asked for', () => {
    const live = started()
    Object.assign(live.controls, { gear: 4, throttle: 100, brake: { kind: 'hold', rpm: 3000 } })
    live.step(10)
    live.controls.brake = { kind: 'sweep', toRpm: 8000, rate: 500 }
    live.step(2)
    const { rpm } = live.sample()
    live.step(4)
    expect((live.sample().rpm - rpm) / 4).toBeGreaterThan(440)
    expect((live.sample().rpm - rpm) / 4).toBeLessThan(560)
  })
  it('warms up as it runs, hotter without the fan', () => {
    const warmth = (fan: boolean): number => {
      const live = started({ coolant: 84 })
      Object.assign(live.controls, { gear: 4, throttle: 100, brake: { kind: 'hold', rpm: 7000 }, fan })
      live.step(120)
      return live.sample().coolant
    }
    const [cooled, still] = [warmth(true), warmth(false)]
    expect(cooled).toBeLessThan(112)
    expect(still).toBeGreaterThan(cooled + 8)
  })
  it('too much advance costs torque and knocks; a limiter keeps the speed', () => {
    const at = (sparkOffset: number) => {
      const live = started()
      Object.assign(live.controls, { gear: 4, throttle: 100, brake: { kind: 'hold', rpm: 5000 }, sparkOffset })
      live.step(12)
      return live.sample()
    }
    expect(at(16).knock).toBeGreaterThan(2)
    expect(at(0).knock).toBeLessThan(1)
    expect(at(-16).torque).toBeLessThan(at(0).torque * 0.97)
    const free = started()
    Object.assign(free.controls, { throttle: 100 })
    free.step(8)
    expect(free.sample().rpm).toBeLessThan(CURLEW_437.redline + 900)
  })
  it('the same seed and controls give the same readings', () => {
    const [a, b, other] = [started({}, 3), started({}, 3), started({}, 4)]
    expect(a.sample()).toEqual(b.sample())
    expect(other.sample()).not.toEqual(a.sample())
  })
  it('another exhaust shows in the reading', () => {
    const read = (breathing: typeof OPEN_SILENCER): number => {
      const live = liveRig(rigFor(CURLEW_437, breathing), { ...DEFAULT_LIVE, coolant: 85 })
      Object.assign(live.controls, { ignition: true, fuel: true, gear: 4, throttle: 100 })
      live.controls.brake = { kind: 'hold', rpm: 8500 }
      live.step(25)
      return live.sample().lambda[0]!
    }
    expect(read(OPEN_SILENCER) / read(STOCK_BREATHING)).toBeGreaterThan(1.05)
  })
})

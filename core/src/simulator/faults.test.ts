import fc from 'fast-check'
import { deliveredFuel } from './delivery'
import { tableFuel } from './controller'
import { lambdaAtSensor, misfireShare, sound, type RigFaults } from './faults'
import { DEFAULT_LIVE, liveRig } from './liveRig'
import { CURLEW_437, GODWIT_712, rigFor, STOCK_BREATHING } from './machines'
import { steadyLambda, type Rig } from './rig'
import {
  calibrationFault,
  isCalibrated,
  lambdaFromShown,
  OXYGEN_PCT,
  plateFromVolts,
  UNCALIBRATED,
  UNCALIBRATED_WARNINGS,
  uncalibratedIn,
} from '../rig/sensors'

const twin = (faults: Partial<RigFaults> = {}): Rig => ({
  ...rigFor(GODWIT_712, STOCK_BREATHING),
  faults: { ...sound(2), ...faults },
})
const fuel = (rig: Rig, rpm: number, plate: number): number[] => deliveredFuel(rig.calibration, rig.faults, rpm, plate)

describe('fuel that reaches the cylinders', () => {
  it('of a sound machine is what the tables ask for, times the trim of the loop', () => {
    const rig = twin()
    const asked = tableFuel(rig.calibration, 0, 5000, 40)
    expect(fuel(rig, 5000, 40)).toEqual([asked, asked])
    expect(deliveredFuel(rig.calibration, rig.faults, 5000, 40, 1.1)[0]).toBeCloseTo(1.1 * asked, 12)
  })
  it('an injector that gives more makes its own cylinder rich and leaves the other alone', () => {
    const rig = twin({ injectors: [1, 1.08] })
    const [first, second] = fuel(rig, 5000, 40)
    expect(second! / first!).toBeCloseTo(1.08, 12)
    expect(steadyLambda(rig, 1, 5000, 40)).toBeCloseTo(steadyLambda(twin(), 1, 5000, 40) / 1.08, 9)
    expect(steadyLambda(rig, 0, 5000, 40)).toBe(steadyLambda(twin(), 0, 5000, 40))
  })
  it('swapped wires give each cylinder what was asked for the other', () => {
    const rig = twin({ wiring: [1, 0] })
    const { base } = rig.calibration
    rig.calibration.trims = [0, 10].map((percent) => ({
      ...base,
      kind: 'fuel trim',
      values: base.load.map(() => base.rpm.map(() => percent)),
    }))
    const [first, second] = fuel(rig, 5000, 40)
    expect(first! / second!).toBeCloseTo(1.1, 9)
  })
  it('a weak pump caps the flow of all together and touches nothing below it', () => {
    const whole = fuel(twin(), 8000, 100)
    const flow = (whole.reduce((sum, one) => sum + one, 0) * 8000) / 120
    const rig = twin({ pump: 0.8 * flow })
    fuel(rig, 8000, 100).forEach((one, c) => expect(one).toBeCloseTo(0.8 * whole[c]!, 9))
    expect(fuel(rig, 4000, 20)).toEqual(fuel(twin(), 4000, 20))
  })
  it('never is more than the pump gives (property)', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1000, max: 10000 }),
        fc.integer({ min: 2, max: 100 }),
        fc.double({ min: 100, max: 5000, noNaN: true }),
        (rpm, plate, pump) => {
          const given = fuel(twin({ pump }), rpm, plate)
          expect((given.reduce((sum, one) => sum + one, 0) * rpm) / 120).toBeLessThanOrEqual(pump * (1 + 1e-9))
        },
      ),
    )
  })
})

describe('a plug that breaks down', () => {
  const misfire = { fromRpm: 6000, toRpm: 7000, fromPlate: 50, share: 0.3 }
  it.each([
    [6500, 80, 0.3],
    [5900, 80, 0],
    [7100, 80, 0],
    [6500, 40, 0],
  ])('at %i rpm and %i %% its share is %d', (rpm, plate, share) => {
    expect(misfireShare(misfire, rpm, plate)).toBe(share)
  })
  it('a sound one never', () => expect(misfireShare(null, 6500, 80)).toBe(0))
})

describe('a leak ahead of the sensor', () => {
  it('adds its air to that of the charge: 100 mg/s beside 1000 read ten percent lean', () => {
    expect(lambdaAtSensor(0.9, 100, 1000)).toBeCloseTo(0.99, 12)
    expect(lambdaAtSensor(0.9, 0, 1000)).toBe(0.9)
  })
  it('weighs less the more the engine breathes, and is bounded at rest', () => {
    const at = (flow: number): number => lambdaAtSensor(1, 300, flow)
    expect(at(30000)).toBeLessThan(at(3000))
    expect(at(0)).toBe(at(100))
  })
  it('shows on the rig at a small opening and not in the engine', () => {
    const shown = (leak: number): number => {
      const rig = { ...rigFor(CURLEW_437, STOCK_BREATHING), faults: { ...sound(1), leak } }
      const live = liveRig(rig, { ...DEFAULT_LIVE, coolant: 84 }, 2)
      Object.assign(live.controls, { ignition: true, fuel: true, gear: 3, throttle: 20 })
      live.controls.brake = { kind: 'hold', rpm: 3500 }
      live.step(8)
      let sum = 0
      for (let k = 0; k < 100; k++) {
        live.step(0.02)
        sum += live.sample().lambda[0]!
      }
      return sum / 100
    }
    expect(shown(900) / shown(0)).toBeGreaterThan(1.05)
  })
})

describe('what the sensors tell', () => {
  it('the throttle by its data sheet until both ends are known, then by them', () => {
    const half = { ...UNCALIBRATED, closedVolts: 0.6 }
    expect(plateFromVolts(2.5, UNCALIBRATED)).toBeCloseTo(50, 9)
    expect(plateFromVolts(2.5, half)).toBeCloseTo(50, 9)
    const both = { ...half, openVolts: 4.2 }
    expect([0.6, 2.4, 4.2].map((volts) => plateFromVolts(volts, both))).toEqual(
      [0, 50, 100].map((x) => expect.closeTo(x, 9) as number),
    )
    expect([plateFromVolts(0, both), plateFromVolts(5, both)]).toEqual([0, 100])
  })
  it('the wideband’s distance from lambda 1 shrinks by as much as free air read too high', () => {
    const known = { ...UNCALIBRATED, freeAirPct: OXYGEN_PCT * 1.05 }
    expect(lambdaFromShown(0.874, known)).toBeCloseTo(0.88, 9)
    expect(lambdaFromShown(1, known)).toBe(1)
    expect(lambdaFromShown(0.874, UNCALIBRATED)).toBe(0.874)
  })
  it.each([
    ['ends too near each other', { closedVolts: 0.5, openVolts: 1.9 }, /only 1.40 V apart/],
    ['ends the wrong way round', { closedVolts: 4.4, openVolts: 0.5 }, /V apart/],
    ['a sensor that is not in air', { freeAirPct: 12 }, /Free air reads 12.0 %/],
  ])('%s are refused in words', (_what, over, words) => {
    expect(calibrationFault({ ...UNCALIBRATED, ...over })).toMatch(words)
  })
  it('one end alone is no fault, and no calibration', () => {
    expect(calibrationFault({ ...UNCALIBRATED, closedVolts: 0.5 })).toBeNull()
    expect(isCalibrated({ ...UNCALIBRATED, closedVolts: 0.5 })).toEqual({ throttle: false, wideband: false })
    expect(isCalibrated({ closedVolts: 0.5, openVolts: 4.4, freeAirPct: 21 })).toEqual({
      throttle: true,
      wideband: true,
    })
  })
  it('a run says which of them were not calibrated', () => {
    expect(uncalibratedIn({ warnings: ['Cut: aborted.', UNCALIBRATED_WARNINGS.wideband] })).toEqual(['wideband'])
    expect(uncalibratedIn({ warnings: [] })).toEqual([])
  })
})

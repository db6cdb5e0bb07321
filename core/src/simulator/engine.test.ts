import type { RunColumns } from '../run/run'
import { airPerCycle, volumetricEfficiency } from './air'
import { fuelIsCut } from './controller'
import { CURLEW_437, OPEN_SILENCER, rigFor, STOCK_BREATHING } from './machines'
import { seededRandom } from '../numbers/random'
import { runSweep, steadyLambda } from './rig'
import { engineTorque, mixtureEfficiency } from './torque'
import { filmCycle } from './wallFilm'
import { widebandTrace } from './wideband'

describe('parts', () => {
  it('a litre of dry air at 101.325 kPa and 15 °C weighs 1.225 g (ISO 2533)', () => {
    expect(airPerCycle(1, 1000, 101.325, 15)).toBeCloseTo(1225, -1)
  })
  it('filling grows with the plate, and the ripples move with the exhaust', () => {
    const at = (breathing: typeof STOCK_BREATHING, rpm: number, plate: number): number =>
      volumetricEfficiency(CURLEW_437, breathing, 0, rpm, plate)
    for (let plate = 5; plate < 100; plate += 5)
      expect(at(STOCK_BREATHING, 6000, plate + 5)).toBeGreaterThan(at(STOCK_BREATHING, 6000, plate))
    expect(at(OPEN_SILENCER, 8600, 100) / at(STOCK_BREATHING, 8600, 100)).toBeGreaterThan(1.05)
    expect(at(OPEN_SILENCER, 4300, 100) / at(STOCK_BREATHING, 4300, 100)).toBeLessThan(1)
  })
  it('a film in balance gives back what lands on it, and a step in fuel arrives late', () => {
    const film = { mass: 0, share: 0.2, tau: 0.2 }
    let out = 0
    for (let k = 0; k < 400; k++) out = filmCycle(film, 10, 0.02)
    expect(out).toBeCloseTo(10, 6)
    expect(filmCycle(film, 20, 0.02)).toBeLessThan(19)
  })
  it('the sensor has the delay and the first-order response it is given', () => {
    const trace = widebandTrace({ transport: 0.1, response: 0.05, noise: 0, least: 0.5, most: 2 }, 0.001)
    const random = seededRandom(1)
    const readings = Array.from({ length: 400 }, () => {
      trace.step(1.4, 0.001)
      return trace.read(random)
    })
    expect(readings[95]).toBe(1)
    expect(readings[150]).toBeCloseTo(1 + 0.4 * (1 - Math.exp(-1)), 1)
    expect(readings[399]).toBeCloseTo(1.4, 2)
  })
  it('torque is best near lambda 0.88 and fuel is cut on the overrun only', () => {
    expect(mixtureEfficiency(0.88)).toBe(1)
    expect(mixtureEfficiency(0.7)).toBeLessThan(mixtureEfficiency(0.85))
    expect(mixtureEfficiency(1.1)).toBeLessThan(mixtureEfficiency(0.95))
    expect(engineTorque(500, 0.88, 6000, 437, 14.5)).toBeGreaterThan(engineTorque(500, 1.2, 6000, 437, 14.5))
    const { calibration } = rigFor(CURLEW_437, STOCK_BREATHING)
    expect([
      fuelIsCut(calibration, 6000, 0),
      fuelIsCut(calibration, 1500, 0),
      fuelIsCut(calibration, 6000, 30),
    ]).toEqual([true, false, false])
  })
  it('random numbers are those of their seed, and look normal', () => {
    const values = Array.from(
      { length: 20000 },
      (
        (r) => () =>
          r.normal()
      )(seededRandom(7)),
    )
    const mean = values.reduce((sum, v) => sum + v, 0) / values.length
    expect(Math.abs(mean)).toBeLessThan(0.03)
    expect(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / values.length).toBeCloseTo(1, 1)
    expect(seededRandom(3).uniform()).toBe(seededRandom(3).uniform())
  })
})

describe('the rig', () => {
  it('with stock parts shows the factory target at the nodes, and runs of one seed are the same', () => {
    const rig = rigFor(CURLEW_437, STOCK_BREATHING)
    expect(steadyLambda(rig, 0, 6000, 100)).toBeCloseTo(0.885, 2)
    const script = { stop: 60, fromRpm: 2000, toRpm: 9000, seconds: 5 }
    expect(runSweep(rig, script, 4)).toEqual(runSweep(rig, script, 4))
    expect(runSweep(rig, script, 5).lambda).not.toEqual(runSweep(rig, script, 4).lambda)
  })
  it('a plug that fails reads lean in its band', () => {
    const rig = rigFor(CURLEW_437, STOCK_BREATHING)
    const script = { stop: 60, fromRpm: 2000, toRpm: 9000, seconds: 8 }
    const mean = (run: RunColumns): number =>
      run.lambda[0]!.reduce(
        (sum, v, i) => (run.rpm[i]! > 6400 && run.rpm[i]! < 7000 && run.throttle![i]! > 50 ? sum + v : sum),
        0,
      )
    expect(
      mean(runSweep(rig, { ...script, misfire: { fromRpm: 6000, toRpm: 7400, share: 0.3 } }, 1)) /
        mean(runSweep(rig, script, 1)),
    ).toBeGreaterThan(1.05)
  })
  it('the closed loop holds lambda 1 in its zone', () => {
    const rig = rigFor(CURLEW_437, OPEN_SILENCER, { loop: [{ fromRpm: 2300, toRpm: 4200, mostPlate: 12 }] })
    const run = runSweep(rig, { stop: 10, fromRpm: 2000, toRpm: 8000, seconds: 12 }, 2)
    const inside = run.lambda[0]!.filter((_, i) => run.rpm[i]! > 3000 && run.rpm[i]! < 4100 && run.throttle[i]! > 9)
    expect(inside.reduce((sum, v) => sum + v, 0) / inside.length).toBeCloseTo(1, 2)
  })
})

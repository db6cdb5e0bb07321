import { humpTorque, knownPull, recordPull, type KnownPull } from '../../../trials/knownPull'
import { DEFAULT_CURVE } from './curve'
import { overlay, rulerOver, type Overlay } from './overlay'
import { binRpm } from './ruler'

/** Runs of a set laid over each other; seeds apart so that no two sets share noise. */
function lay(set: number, pulls: Partial<KnownPull>[], factor = 1): Overlay {
  const runs = pulls.map((over, k) => recordPull(knownPull({ seed: 100 * set + k + 1, ...over }), `run ${k + 1}`))
  return overlay(runs, rulerOver(runs)!, { ...DEFAULT_CURVE, lag: 0 }, factor)
}
const ODD = { from: 5200, to: 6400, torque: -0.06, lambda: 0 }

describe('curves', () => {
  it('stand where the torque is, within 1 % between 3,300 and 9,000 rpm', () => {
    const { ruler, values } = lay(1, [{ between: 0 }])
    values.torque[0]!.forEach((value, bin) => {
      const rpm = binRpm(ruler, bin)
      if (rpm >= 3300 && rpm <= 9000) expect(Math.abs(value / humpTorque(rpm) - 1)).toBeLessThan(0.01)
    })
  })
  it('carry the correction in torque and power, not in mixture', () => {
    const [plain, corrected] = [lay(1, [{}]), lay(1, [{}], 1.05)]
    const bin = 30
    expect(corrected.values.torque[0]![bin]! / plain.values.torque[0]![bin]!).toBeCloseTo(1.05, 5)
    expect(corrected.values.power[0]![bin]! / plain.values.power[0]![bin]!).toBeCloseTo(1.05, 5)
    expect(corrected.values.lambda[0]![bin]).toBe(plain.values.lambda[0]![bin])
  })
  it('power is torque times rpm / 9549.3', () => {
    const { ruler, values } = lay(1, [{}])
    expect(values.power[0]![40]).toBeCloseTo((values.torque[0]![40]! * binRpm(ruler, 40)) / 9549.3, 3)
  })
})

describe('the odd run out, over 100 seeded sets of three', () => {
  it('is found with its band in 95 of 100 at a 6 % local error', () => {
    let found = 0
    for (let set = 1; set <= 100; set++) {
      const at = set % 3
      const { odd } = lay(
        set,
        [0, 1, 2].map((k) => (k === at ? { odd: ODD } : {})),
      )
      const [one] = odd
      if (
        odd.length === 1 &&
        one!.run === `run ${at + 1}` &&
        Math.abs(one!.fromRpm - ODD.from) < 350 &&
        Math.abs(one!.toRpm - ODD.to) < 350
      )
        found++
    }
    expect(found).toBeGreaterThanOrEqual(95)
  })
  it('a clean set is left alone in 95 of 100', () => {
    let alone = 0
    for (let set = 1; set <= 100; set++) if (lay(200 + set, [{}, {}, {}]).odd.length === 0) alone++
    expect(alone).toBeGreaterThanOrEqual(95)
  })
  it('is found in the mixture too, and called a misfire when torque drops and readings scatter', () => {
    const { odd } = lay(7, [{}, { odd: { from: 5200, to: 6600, torque: -0.08, lambda: 0.07 } }, {}])
    expect(odd).toHaveLength(1)
    expect(odd[0]).toMatchObject({ run: 'run 2', quantity: 'lambda' })
    expect(odd[0]!.departurePct).toBeGreaterThan(4)
    expect(odd[0]!.misfire).toMatchObject({ cylinder: 1 })
    expect(odd[0]!.misfire!.torquePct).toBeLessThan(-4)
    expect(odd[0]!.misfire!.scatterRatio).toBeGreaterThan(1.5)
  })
  it('a run that is really leaner, with no loss of torque and no scatter, is no misfire', () => {
    const runs = [0, 1, 2].map((k) =>
      recordPull(
        knownPull({ seed: 900 + k, lambda: (rpm) => (k === 1 && rpm > 5200 && rpm < 6600 ? 0.94 : 0.88) }),
        `run ${k}`,
      ),
    )
    const { odd } = overlay(runs, rulerOver(runs)!, { ...DEFAULT_CURVE, lag: 0 }, 1)
    expect(odd).toHaveLength(1)
    expect(odd[0]!.misfire).toBeNull()
  })
  it('of two runs nobody can tell which is odd', () => {
    expect(lay(8, [{}, { odd: ODD }]).odd).toEqual([])
  })
})

describe('warm-up runs', () => {
  it('are told by the coolant, and do not widen the spread', () => {
    const { warmUps, spread } = lay(9, [{ coolant: 62, torque: (rpm) => 0.97 * humpTorque(rpm) }, {}, {}, {}])
    expect(warmUps).toEqual([{ run: 'run 1', why: expect.stringMatching(/coolant 62 °C, 24 °C below/) as string }])
    expect(spread.torque.runs[40]).toBe(3)
  })
  it('are told by drift where no coolant is logged, first ones only', () => {
    const cold = (rpm: number): number => 0.95 * humpTorque(rpm)
    const pulls = (which: number): Partial<KnownPull>[] =>
      [0, 1, 2, 3].map((k) => ({ coolant: NaN, between: 0.002, ...(k === which ? { torque: cold } : {}) }))
    expect(lay(10, pulls(0)).warmUps.map((one) => one.run)).toEqual(['run 1'])
    expect(lay(11, pulls(2)).warmUps).toEqual([])
  })
})

it('cylinders that lie apart are told, whatever their average', () => {
  const runs = [1, 2, 3].map((seed) => {
    const run = recordPull(knownPull({ seed }))
    return {
      ...run,
      lambda: [run.lambda[0]!.map((value) => 1.04 * value), run.lambda[0]!.map((value) => 0.97 * value)],
    }
  })
  const { cylinders, apartPct } = overlay(runs, rulerOver(runs)!, { ...DEFAULT_CURVE, lag: 0 }, 1)
  expect(cylinders).toHaveLength(2)
  expect(cylinders[0]![40]! / cylinders[1]![40]!).toBeCloseTo(1.04 / 0.97, 5)
  expect(apartPct).toBeCloseTo(100 * (1.04 / 0.97 - 1), 3)
})

it('a run left out in a band says nothing there and the rest of it counts', () => {
  const run = { ...recordPull(knownPull({})), leftOut: { fromRpm: 5000, toRpm: 6000 } }
  const ruler = rulerOver([run])!
  const { values } = overlay([run], ruler, { ...DEFAULT_CURVE, lag: 0 }, 1)
  const at = (rpm: number): number => values.torque[0]![(rpm - ruler.first) / ruler.step]!
  expect(at(5500)).toBeNaN()
  expect(at(4500)).toBeGreaterThan(30)
  expect(at(7000)).toBeGreaterThan(30)
})

import { runScript } from '../simulator/runScript'
import { DEFAULT_LIVE, liveRig } from '../simulator/liveRig'
import { rigOf, SIMULATED_MACHINES } from '../simulator/machinesById'
import { mixtureEfficiency } from '../simulator/torque'
import { seededRandom } from '../numbers/random'
import { fitMixture, lossAt, mixtureBins, type MixturePoint } from './mixtureSweep'

describe('torque against mixture on the simulated rig', () => {
  const live = liveRig(
    rigOf(SIMULATED_MACHINES.find((one) => one.id === 'curlew-437-stock')!),
    {
      ...DEFAULT_LIVE,
      coolant: 84,
    },
    5,
  )
  const script = { kind: 'mixture step', stop: 100, rpm: 5500, seconds: 5, gear: 4 } as const
  const runs = [1, 2].map((k) => runScript(live, { ...script, offsets: [0, 14, 9, 4, -2, -6, 0] }, `mixture ${k}`))
  const [bin, ...others] = mixtureBins(runs)

  it('makes one point for each mixture and run, from rich to lean', () => {
    expect(others).toEqual([])
    expect(bin).toMatchObject({ stop: 100, rpm: 5500 })
    expect(bin!.points.length).toBeGreaterThanOrEqual(12)
    const lambdas = bin!.points.map((one) => one.lambda)
    // Fuel was stepped by 20 percentage points.
    expect(Math.max(...lambdas) / Math.min(...lambdas)).toBeCloseTo(1.14 / 0.94, 1)
  })
  it('finds the mixture of best torque within 0.02 lambda, and what a richer one costs within 0.5 %', () => {
    const fit = fitMixture(bin!.points)
    expect(fit.best).not.toBeNull()
    // Richer than best advance's own mixture the charge also burns slower, so the peak is the engine's, not the formula's alone.
    expect(Math.abs(fit.best!.lambda - 0.88)).toBeLessThan(0.035)
    const rich = lossAt(fit, 0.82)!
    expect(rich.value).toBeLessThan(0)
    expect(rich.value).toBeGreaterThan(-2)
    expect(lossAt(fit, 1.2)).toBeNull()
    expect(lossAt(fit, fit.best!.lambda)!.value).toBeCloseTo(0, 9)
  })
  it('a run in which nothing was stepped makes no bin', () => {
    const hold = runScript(live, { kind: 'hold', stop: 100, rpm: 5500, seconds: 6, gear: 4 }, 'hold')
    expect(mixtureBins([hold])).toEqual([])
    expect(mixtureBins([{ ...runs[0]!, lambda: [] }])).toEqual([])
  })
})

describe('the fit over 50 seeds', () => {
  const points = (seed: number, lambdas = [0.8, 0.84, 0.88, 0.92, 0.96]): MixturePoint[] => {
    const random = seededRandom(seed)
    return lambdas.flatMap((lambda) =>
      [1, 2, 3].map(() => ({
        lambda,
        torque: 40 * mixtureEfficiency(lambda) * (1 + 0.001 * random.normal()),
        knock: false,
      })),
    )
  }
  it('best within 0.02 of the truth in 95 of 100, and the interval covers it mostly', () => {
    const fits = Array.from({ length: 50 }, (_, k) => fitMixture(points(k + 1)))
    const told = fits.filter((one) => one.best)
    expect(told.length).toBeGreaterThanOrEqual(48)
    expect(told.filter((one) => Math.abs(one.best!.lambda - 0.88) <= 0.02).length / told.length).toBeGreaterThanOrEqual(
      0.95,
    )
  })
  it.each([
    ['two mixtures', [0.85, 0.9], 'too few mixtures'],
    ['all of them rich', [0.62, 0.66, 0.7, 0.74], 'try leaner'],
    ['all of them lean', [1.0, 1.04, 1.08, 1.12], 'try richer'],
  ] as const)('%s: words', (_what, lambdas, verdict) => {
    expect(fitMixture(points(3, [...lambdas])).verdict).toBe(verdict)
  })
  it('torque that does not care says so', () => {
    const random = seededRandom(8)
    const flat = [0.8, 0.85, 0.9, 0.95].flatMap((lambda) =>
      [1, 2, 3].map(() => ({ lambda, torque: 40 * (1 + 0.004 * random.normal()), knock: lambda > 0.94 })),
    )
    expect(fitMixture(flat)).toMatchObject({ verdict: 'flat', best: null, knockFrom: 0.95 })
  })
})

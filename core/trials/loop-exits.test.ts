/** Loop exits against sweeps whose truth is known, made for this test only: a level that hunts, then an open curve, behind a delay and a sensor. */
import { loopExits } from '../src/response/exits/loopExits'
import { DEFAULT_FILTERS, type RunColumns } from '../src/run/run'
import { known } from './knownRollOns'
import { seeds } from './seeds'

interface Case {
  step: number
  hunt: number
  hz: number
  repeats: number
}
const STEP = 0.005
const SEEDS = seeds(20, 2)

/** Sweeps at two stops with a loop and one without. */
function sweeps(seed: number, { step, hunt, hz, repeats }: Case): { runs: RunColumns[]; exits: number[]; lag: number } {
  const { uniform, normal } = known(seed)
  const exits = [4200 + 600 * uniform(), 4000 + 600 * uniform()]
  const [delay, tau] = [0.1 + 0.1 * uniform(), 0.06 + 0.04 * uniform()]
  const runs = [8, 15, 40].flatMap((load, stop) =>
    Array.from({ length: repeats }, (_, repeat): RunColumns => {
      const n = Math.round(14 / STEP)
      const rate = 500 + 200 * uniform()
      const [phase, slope] = [6 * uniform(), 0.02 * (uniform() - 0.5)]
      const rpmAt = (t: number): number => Math.min(9000, 1800 + rate * Math.max(0, t - 1))
      const raw = Float64Array.from({ length: n }, (_, i) => {
        const [t, rpm] = [i * STEP, rpmAt(i * STEP)]
        const exit = exits[stop]
        if (exit === undefined) return 0.93 + 0.03 * Math.sin(rpm / 900)
        const open = (1 + step) * (1 + (slope * (rpm - exit)) / 1000 + 0.004 * Math.sin(rpm / 700))
        return rpm > 2200 && rpm < exit ? 1 + hunt * Math.sin(2 * Math.PI * 1.3 * t + phase) : open
      })
      let value = raw[0]!
      const shown = raw.map((_, i) => {
        value += (raw[Math.max(0, i - Math.round(delay / STEP))]! - value) * (1 - Math.exp(-STEP / tau))
        return value
      })
      const column = (of: (t: number) => number): Float32Array =>
        Float32Array.from({ length: 14 * hz }, (_, k) => of(k / hz))
      return {
        id: `${stop} ${repeat}`,
        time: column((t) => t),
        rpm: column((t) => rpmAt(t) + 8 * normal()),
        throttle: column(() => load + 0.15 * normal()),
        lambda: [column((t) => shown[Math.min(n - 1, Math.round(t / STEP))]! * (1 + 0.01 * normal()))],
      }
    }),
  )
  return { runs, exits, lag: delay + tau }
}

const CASES: Case[] = [
  { step: -0.04, hunt: 0.006, hz: 20, repeats: 3 },
  { step: -0.08, hunt: 0.03, hz: 50, repeats: 3 },
  { step: 0.04, hunt: 0.01, hz: 20, repeats: 2 },
]

test.each(CASES)('an exit is found within 100 rpm and 1 % of its step: %j', (one) => {
  let [right, wrong] = [0, 0]
  for (const seed of SEEDS) {
    const { runs, exits, lag } = sweeps(seed, one)
    const found = loopExits(runs, { lag, error: 0.01 }, DEFAULT_FILTERS)
    exits.forEach((rpm, k) => {
      const exit = found.find((each) => Math.abs(each.load - [8, 15][k]!) < 3)
      const isRight = exit && Math.abs(exit.rpm - rpm) <= 100 && Math.abs(exit.stepPct - 100 * one.step) <= 1
      if (isRight) right++
      else wrong++
    })
    // Where there is no loop there is no exit.
    expect(found.filter((each) => each.load > 30)).toEqual([])
  }
  expect(right / (right + wrong)).toBeGreaterThanOrEqual(SEEDS.length > 10 ? 0.95 : 0.9)
})

test('without a step there is no exit', () => {
  const found = SEEDS.flatMap((seed) => {
    const { runs, lag } = sweeps(seed, { step: 0, hunt: 0.006, hz: 50, repeats: 3 })
    return loopExits(runs, { lag, error: 0.01 }, DEFAULT_FILTERS)
  })
  expect(found.length).toBeLessThanOrEqual(0.05 * 2 * SEEDS.length + 1)
})

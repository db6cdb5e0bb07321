/**
 * Overruns whose truth is known: fuel is cut some time after the plate shuts and comes back at a speed of its own or with the plate,
 * seen through a delay and a sensor of one stage or of two that ends at 1.6 or goes on. Made for this test only.
 */
import { DEFAULT_RESPONSE, respond } from '../src/response/response'
import type { RunColumns } from '../src/run/run'
import { seeds } from './seeds'

interface Ride {
  seed: number
  hz: number
  stages: 1 | 2
  /** lambda that the sensor ends at */
  end: number
}
const STEP = 0.002

/** Uniform numbers by a subtractive congruence (Knuth 1981, made short), and normal ones by twelve of them. */
function chance(seed: number): { uniform: () => number; normal: () => number } {
  let [a, b] = [(seed * 16807 + 11) % 2147483647, (seed * 48271 + 7) % 2147483647]
  const uniform = (): number => {
    a = (a * 16807) % 2147483647
    b = (b * 48271) % 2147483647
    return ((a - b + 2147483647) % 2147483647) / 2147483647
  }
  return { uniform, normal: () => Array.from({ length: 12 }, uniform).reduce((sum, one) => sum + one, -6) }
}

function ride({ seed, hz, stages, end }: Ride): { run: RunColumns; lag: number; cut: number; back: number } {
  const { uniform, normal } = chance(seed)
  const delay = 0.06 + 0.1 * uniform()
  const tau = 0.05 + 0.05 * uniform()
  const [fast, slow] = [5200 + 2200 * uniform(), 3400 + 700 * uniform()]
  const cutAfter = 0.05 + 0.25 * uniform()
  const isByPlate = uniform() > 0.5
  const air = 2 + 4 * uniform()
  const [shutAt, rate] = [2, 900 + 500 * uniform()]
  const openAt = shutAt + (fast - slow) / rate
  const backAt = isByPlate ? openAt + 0.05 : openAt - 0.3 - 0.3 * uniform()
  const rpmAt = (t: number): number =>
    t < shutAt ? fast : t < openAt ? fast - rate * (t - shutAt) : slow + 150 * (t - openAt)
  const n = Math.round((openAt + 3) / STEP)
  const burnt = (t: number): number => (t > shutAt + cutAfter && t < backAt ? air : 0.94)
  const late = Math.round(delay / STEP)
  const [shown, held] = [new Float64Array(n), Array.from({ length: stages }, () => 0.94)]
  for (let i = 0; i < n; i++) {
    let arriving = burnt((i - late) * STEP)
    for (let s = 0; s < stages; s++) {
      held[s]! += (arriving - held[s]!) * (STEP / (tau / stages))
      arriving = held[s]!
    }
    shown[i] = Math.min(end, arriving)
  }
  const rows = Math.floor((openAt + 2.8) * hz)
  const column = (of: (t: number, i: number) => number): Float32Array =>
    Float32Array.from({ length: rows }, (_, k) => of(k / hz, Math.round(k / hz / STEP)))
  return {
    lag: delay + tau,
    cut: rpmAt(shutAt + cutAfter),
    back: rpmAt(backAt),
    run: {
      id: `ride ${seed}`,
      time: column((t) => t),
      rpm: column((t) => rpmAt(t) + 12 * normal()),
      throttle: column((t) => Math.max(0, (t < shutAt ? 28 : t < openAt ? 0 : 26) + 0.15 * normal())),
      lambda: [column((_, i) => Math.min(end, shown[i]! * (1 + 0.006 * normal())))],
    },
  }
}

const RIDES = seeds(12, 4).flatMap((seed) =>
  ([1, 2] as const).flatMap((stages) =>
    [1.6, 2.5].map((end) => ({ seed: 31 * seed + stages, hz: seed % 2 ? 20 : 50, stages, end })),
  ),
)

test('fuel is cut, and comes back, within 100 rpm of where it did, where the lag is said', () => {
  const off = RIDES.map((one) => {
    const { run, lag, cut, back } = ride(one)
    const [found] = respond([run], { ...DEFAULT_RESPONSE, lag }).overrun
    return found ? { cut: found.cutRpm - cut, back: found.backRpm === null ? Infinity : found.backRpm - back } : null
  })
  const share = (of: 'cut' | 'back'): number => off.filter((one) => one && Math.abs(one[of]) <= 100).length / off.length
  expect(off.every(Boolean)).toBe(true)
  expect(share('cut')).toBeGreaterThanOrEqual(0.95)
  expect(share('back')).toBeGreaterThanOrEqual(0.95)
})

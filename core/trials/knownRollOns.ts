import type { RunColumns } from '../src/run/run'

/**
 * Logs of roll-ons whose truth is known, made without the simulated engine: a film and an enrichment integrated in small
 * steps, a delay and a first-order sensor. Written for tests only; shares nothing with the estimator.
 */
export interface KnownFilm {
  /** share X of the fuel that lands on the wall, and its time constant, s */
  share: number
  tau: number
  /** share of the growing fuel that is put in extra, and s in which it decays */
  extra: number
  decay: number
}

export interface KnownRollOns {
  run: RunColumns
  /** of each opening: peaks as shares of lambda, s until within 2 % for good, and when it began */
  truth: { lean: number; rich: number; settle: number; at: number }[]
  delay: number
  sensor: number
}

interface Over {
  hz?: number
  noise?: number
  /** lambda at small openings, and at large ones */
  from?: number
  to?: number
}

const STEP = 0.001
const APART = 6
const HELD = 3.2

/** Uniform and normal numbers of a seed (xorshift). */
export function known(seed: number): { uniform: () => number; normal: () => number } {
  let state = (seed * 7919 + 13) >>> 0 || 1
  const uniform = (): number => {
    state = (state ^ (state << 13)) >>> 0
    state ^= state >>> 17
    state = (state ^ (state << 5)) >>> 0
    return (state + 0.5) / 4294967296
  }
  return {
    uniform,
    normal: () => Math.sqrt(-2 * Math.log(uniform())) * Math.cos(2 * Math.PI * uniform()),
  }
}

/** Three openings of one kind at a held speed. */
export function knownRollOns(
  seed: number,
  film: KnownFilm,
  { hz = 20, noise = 0.01, from = 0.95, to = from }: Over = {},
): KnownRollOns {
  const { uniform, normal } = known(seed)
  const count = 3
  const delay = 0.05 + 0.15 * uniform()
  const sensor = 0.06 + 0.06 * uniform()
  const events = Array.from({ length: count }, (_, k) => ({
    at: 2 + APART * k + 0.3 * uniform(),
    ramp: 0.1 + 0.15 * uniform(),
    shut: 8 + 4 * uniform(),
    open: 40 + 10 * uniform(),
  }))
  const seconds = APART * count + 2
  const n = Math.floor(seconds / STEP)
  const smooth = (x: number): number => x * x * (3 - 2 * x)
  const plateAt = (t: number): number => {
    const k = Math.max(
      0,
      events.findLastIndex((one) => t >= one.at - 1),
    )
    const { at, ramp, shut, open } = events[k]!
    if (t < at) return shut
    if (t < at + HELD) return shut + (open - shut) * smooth(Math.min(1, (t - at) / ramp))
    const next = events[Math.min(k + 1, count - 1)]!.shut
    return open + (next - open) * Math.min(1, (t - at - HELD) / 0.3)
  }
  // Filling levels off as the plate opens.
  const airAt = (plate: number): number => 1 - Math.exp(-plate / 22)
  const truth = events.map(({ at }) => ({ lean: 0, rich: 0, settle: 0, at }))
  const cylinder = new Float64Array(n)
  let [onWall, extra, before] = [-1, 0, plateAt(0)]
  for (let i = 0; i < n; i++) {
    const t = i * STEP
    const plate = plateAt(t)
    const wanted = from + (to - from) * Math.min(1, Math.max(0, (plate - 15) / 20))
    const fuel = airAt(plate) / wanted
    const k = Math.max(
      0,
      events.findLastIndex((one) => t >= one.at - 1),
    )
    const since = t - events[k]!.at
    extra = extra * Math.exp(-STEP / film.decay) + (film.extra * Math.max(0, airAt(plate) - airAt(before))) / wanted
    before = plate
    // Between the openings the film is given time to settle.
    if (onWall < 0 || since < -0.5 || since > 3.1) onWall = film.share * fuel * film.tau
    const drawn = (1 - film.share) * fuel + onWall / film.tau + extra
    onWall += STEP * (film.share * fuel - onWall / film.tau)
    cylinder[i] = airAt(plate) / drawn
    if (since < 0 || since >= 3) continue
    const off = cylinder[i]! / wanted - 1
    const own = truth[k]!
    own.lean = Math.max(own.lean, off)
    own.rich = Math.max(own.rich, -off)
    if (Math.abs(off) > 0.02) own.settle = since
  }
  const shown = new Float64Array(n)
  let value = cylinder[0]!
  for (let i = 0; i < n; i++) {
    value += (cylinder[Math.max(0, i - Math.round(delay / STEP))]! - value) * (1 - Math.exp(-STEP / sensor))
    shown[i] = value
  }
  const rows = Math.floor(seconds * hz)
  const column = (of: (t: number, i: number) => number): Float32Array =>
    Float32Array.from({ length: rows }, (_, k) => of(k / hz, Math.min(n - 1, Math.round(k / hz / STEP))))
  const run: RunColumns = {
    id: `known ${seed}`,
    time: column((t) => t),
    rpm: column(() => 4000 + 8 * normal()),
    throttle: column((t) => plateAt(t) + 0.15 * normal()),
    lambda: [column((_, i) => shown[i]! * (1 + noise * normal()))],
  }
  return { run, truth, delay, sensor }
}

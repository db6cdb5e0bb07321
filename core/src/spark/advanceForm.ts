import { addAt, banded, cholesky, forward } from '../numbers/banded'

/** One setting of the advance, measured once. */
export interface AdvanceReading {
  /** degrees before top dead centre */
  advance: number
  /** N·m */
  torque: number
  knock: boolean
  /** the run it was stepped in; left out where nobody knows, and then it tells nothing of heat */
  run?: string
}

/** Shares: how runs differ as a whole, what heat does over a run, and what knock takes of torque. */
const RUN = 0.006
const HEAT = 0.025
const KNOCK = { usual: -0.0015, spread: 0.006 }
const LEVEL = 0.3

/** Straight parts of the model: level, heat over a run, knock, and a level of each run. Values by reading, mean and spread. */
export interface Part {
  values: Float64Array
  usual: number
  spread: number
}

/**
 * The straight parts of some readings: a level, heat over each stepped run, what knock takes, and a level of each run.
 *
 * @returns the parts, and which of them is heat; null where no run was stepped
 */
export function straightParts(readings: readonly AdvanceReading[]): { parts: Part[]; heat: number | null } {
  const parts: Part[] = [{ values: new Float64Array(readings.length).fill(1), usual: 0, spread: LEVEL }]
  const runs = new Map<string, number[]>()
  readings.forEach(({ run }, k) => {
    if (run !== undefined) runs.set(run, [...(runs.get(run) ?? []), k])
  })
  const stepped = [...runs.values()].filter((members) => members.length > 2)
  let heat: number | null = null
  if (stepped.length > 0) {
    const values = new Float64Array(readings.length)
    for (const members of stepped) members.forEach((at, k) => (values[at] = k / (members.length - 1) - 0.5))
    heat = parts.push({ values, usual: 0, spread: HEAT }) - 1
  }
  if (readings.some((one) => one.knock))
    parts.push({
      values: Float64Array.from(readings, (one) => Number(one.knock)),
      usual: KNOCK.usual,
      spread: KNOCK.spread,
    })
  // Levels of runs tell apart only where there are several, and each has several settings.
  if (stepped.length > 1)
    for (const members of stepped) {
      const values = new Float64Array(readings.length)
      for (const at of members) values[at] = 1
      parts.push({ values, usual: 0, spread: RUN })
    }
  return { parts, heat }
}

/** What is worked out once for a noise: quadratic form of (y - loss) in the inverse of its covariance, by setting. */
export interface Form {
  noise: number
  /** ln of the determinant's root, and what y alone comes to */
  logRoot: number
  own: number
  linear: Float64Array
  quadratic: Float64Array[]
}

/** The quadratic form for a noise. @param setting index of each reading's setting; @param loose factor on each reading's variance */
export function formOf(
  y: Float64Array,
  parts: readonly Part[],
  setting: readonly number[],
  settings: number,
  noise: number,
  loose: Float64Array,
): Form {
  const n = y.length
  const covariance = banded(n, n - 1)
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let sum = i === j ? noise * noise * loose[i]! : 0
      for (const { values, spread } of parts) sum += spread * spread * values[i]! * values[j]!
      addAt(covariance, i, j, sum)
    }
  const root = cholesky(covariance)
  let logRoot = 0
  for (let i = 0; i < n; i++) logRoot += Math.log(root.data[i * n + n - 1]!)
  const centred = y.map((value, i) => value - parts.reduce((sum, { values, usual }) => sum + usual * values[i]!, 0))
  const white = forward(root, centred)
  const whites = Array.from({ length: settings }, (_, s) =>
    forward(
      root,
      Float64Array.from(setting, (one) => Number(one === s)),
    ),
  )
  const dot = (a: Float64Array, b: Float64Array): number => a.reduce((sum, value, k) => sum + value * b[k]!, 0)
  return {
    noise,
    logRoot,
    own: dot(white, white),
    linear: Float64Array.from(whites, (one) => dot(one, white)),
    quadratic: whites.map((one) => Float64Array.from(whites, (other) => dot(one, other))),
  }
}

import { addAt, banded, cholesky, solveFactored } from '../numbers/banded'
import type { AdvanceCurve, CurveDraw } from './advanceCurve'
import { formOf, straightParts, type AdvanceReading, type Part } from './advanceForm'

/** What readings at one place tell of torque over advance. */
export interface AdvancePosterior {
  curve: AdvanceCurve
  /** standard deviation of one reading about the curve, N·m */
  spread: number
  /** share of torque that heat took (below nought) or gave from the first setting of a run to its last, with its standard deviation; null where no run was stepped */
  heat: { share: number; sd: number } | null
}

/** ln of the share of torque that a degree squared costs: 10 degrees cost about 5 %, 3 to 8 (Heywood ch. 15, from memory). */
const BEND = { usual: Math.log(5e-4), spread: 0.35 }
/** ln of how much faster torque falls on one side than on the mean of both. */
const LEAN = 0.18
/** ln of the share by which readings repeat. */
const NOISE = { usual: Math.log(0.006), spread: 0.8 }
/** Degrees beyond what was tried in which the best is sought, and the step. */
const BEYOND = 14
const STEP = 0.25
const NOISES = [-1.8, -1.2, -0.6, 0, 0.6, 1.2, 1.8]
const BENDS = [-2, -1.5, -1, -0.5, 0, 0.5, 1, 1.5, 2]
const LEANS = [-2, -1.25, -0.6, 0, 0.6, 1.25, 2]
const DRAWS = 160
/** How much less likely than the likeliest, as ln, a curve may be and still count. */
const FAINT = 12
/** Spreads from the curve beyond which a reading counts for less. */
const ODD = 3

/**
 * Torque over advance from readings at one place: level times a curve that is concave, and may fall faster on one side of its best,
 * with heat over a run, levels of the runs and what knock takes as terms of their own. The posterior is summed over a grid of best,
 * bend, lean and noise; what is straight is integrated out.
 *
 * @param readings in the order in which they were run, three or more
 * @param settings advances that were tried, rising; readings belong to the nearest
 * @see Rasmussen and Williams, Gaussian Processes, 2.7 (explicit basis functions), from memory
 * @example
 * const { curve } = advancePosterior(readings, [18, 22, 26, 30])
 */
export function advancePosterior(readings: readonly AdvanceReading[], settings: readonly number[]): AdvancePosterior {
  const mean = readings.reduce((sum, one) => sum + one.torque, 0) / readings.length
  const y = Float64Array.from(readings, (one) => one.torque / mean - 1)
  const { parts, heat } = straightParts(readings)
  const setting = readings.map(({ advance }) =>
    settings.reduce((near, one, k) => (Math.abs(one - advance) < Math.abs(settings[near]! - advance) ? k : near), 0),
  )
  let loose = new Float64Array(readings.length).fill(1)
  let found = summed(y, parts, setting, settings, loose)
  // A reading that no curve meets counts for less.
  for (let round = 0; round < 2; round++) {
    const left = residuals(y, parts, setting, found, loose)
    loose = left.map((off) => Math.max(1, (Math.abs(off) / (ODD * found.noise)) ** 2))
    if (loose.every((one) => one === 1)) break
    found = summed(y, parts, setting, settings, loose)
  }
  const expected = expectedParts(y, parts, setting, found, loose)
  return {
    curve: { level: mean * (1 + expected[0]!.value), draws: found.draws },
    spread: found.noise * mean,
    heat: heat === null ? null : { share: expected[heat]!.value, sd: expected[heat]!.sd },
  }
}

interface Found {
  draws: CurveDraw[]
  noise: number
  /** mean loss by setting */
  loss: Float64Array
}

/** The posterior over the grid, as draws that are equally likely. */
function summed(
  y: Float64Array,
  parts: readonly Part[],
  setting: readonly number[],
  settings: readonly number[],
  loose: Float64Array,
): Found {
  const forms = NOISES.map((z) => ({
    ...formOf(y, parts, setting, settings.length, Math.exp(NOISE.usual + z * NOISE.spread), loose),
    prior: -0.5 * z * z,
  }))
  const grid = curvesTried(settings)
  const logs = new Float64Array(grid.length * forms.length)
  const loss = new Float64Array(settings.length)
  let most = -Infinity
  grid.forEach(({ draw, prior }, k) => {
    lossInto(loss, draw, settings)
    forms.forEach((one, f) => {
      const log = one.prior + prior - one.logRoot - 0.5 * formAt(one, loss)
      logs[k * forms.length + f] = log
      if (log > most) most = log
    })
  })
  // A curve's weight is summed over the noises.
  const kept: { draw: CurveDraw; weight: number }[] = []
  const meanLoss = new Float64Array(settings.length)
  let [total, lnNoise] = [0, 0]
  grid.forEach(({ draw }, k) => {
    let sum = 0
    for (let f = 0; f < forms.length; f++) {
      const log = logs[k * forms.length + f]! - most
      if (!(log > -FAINT)) continue
      const weight = Math.exp(log)
      sum += weight
      lnNoise += weight * Math.log(forms[f]!.noise)
    }
    if (sum === 0) return
    kept.push({ draw, weight: sum })
    total += sum
    lossInto(loss, draw, settings)
    for (let s = 0; s < loss.length; s++) meanLoss[s]! += sum * loss[s]!
  })
  return {
    draws: equallyLikely(kept, total),
    noise: Math.exp(lnNoise / total),
    loss: meanLoss.map((one) => one / total),
  }
}

/** The curves of the grid, best rising, with the ln of what is held of each before a reading. */
function curvesTried(settings: readonly number[]): { draw: CurveDraw; prior: number }[] {
  const [from, to] = [settings[0]! - BEYOND, settings.at(-1)! + BEYOND]
  const tried: { draw: CurveDraw; prior: number }[] = []
  for (let best = from; best <= to; best += STEP)
    for (const bend of BENDS)
      for (const lean of LEANS) {
        const mean = Math.exp(BEND.usual + bend * BEND.spread)
        const draw = { best, later: mean * Math.exp(lean * LEAN), earlier: mean * Math.exp(-lean * LEAN) }
        tried.push({ draw, prior: -0.5 * (bend * bend + lean * lean) })
      }
  return tried
}

/** Share of torque that a curve loses at each setting. */
function lossInto(loss: Float64Array, { best, later, earlier }: CurveDraw, settings: readonly number[]): void {
  for (let s = 0; s < loss.length; s++) {
    const off = settings[s]! - best
    loss[s] = (off < 0 ? later : earlier) * off * off
  }
}

/** y + loss, whitened: own + 2 linear' loss + loss' quadratic loss. */
function formAt({ own, linear, quadratic }: ReturnType<typeof formOf>, loss: Float64Array): number {
  let form = own
  for (let s = 0; s < loss.length; s++) {
    const row = quadratic[s]!
    let sum = 2 * linear[s]!
    for (let r = 0; r < loss.length; r++) sum += row[r]! * loss[r]!
    form += loss[s]! * sum
  }
  return form
}

/** Systematic resampling along the best: the same draws each time. */
function equallyLikely(kept: readonly { draw: CurveDraw; weight: number }[], total: number): CurveDraw[] {
  const draws: CurveDraw[] = []
  let [at, passed] = [0, 0]
  for (let k = 0; k < DRAWS; k++) {
    const wanted = ((k + 0.5) / DRAWS) * total
    while (passed + kept[at]!.weight < wanted && at < kept.length - 1) passed += kept[at++]!.weight
    // Within a step of the grid the best lies anywhere.
    const inside = (wanted - passed) / kept[at]!.weight - 0.5
    draws.push({ ...kept[at]!.draw, best: kept[at]!.draw.best + STEP * Math.max(-0.5, Math.min(0.5, inside)) })
  }
  return draws
}

/** Mean and spread of the straight parts, given the curve and the noise to be expected. */
function expectedParts(
  y: Float64Array,
  parts: readonly Part[],
  setting: readonly number[],
  { noise, loss }: Found,
  loose: Float64Array,
): { value: number; sd: number }[] {
  const size = parts.length
  const normal = banded(size, size - 1)
  const right = new Float64Array(size)
  parts.forEach((one, i) => {
    addAt(normal, i, i, 1 / one.spread ** 2)
    right[i]! += one.usual / one.spread ** 2
    parts.slice(0, i + 1).forEach((other, j) => {
      let sum = 0
      for (let k = 0; k < y.length; k++) sum += (one.values[k]! * other.values[k]!) / (noise * noise * loose[k]!)
      addAt(normal, i, j, sum)
    })
    for (let k = 0; k < y.length; k++)
      right[i]! += (one.values[k]! * (y[k]! + loss[setting[k]!]!)) / (noise * noise * loose[k]!)
  })
  const factor = cholesky(normal)
  const values = solveFactored(factor, right)
  const unit = (i: number): Float64Array => Float64Array.from({ length: size }, (_, k) => Number(k === i))
  return [...values].map((value, i) => ({ value, sd: Math.sqrt(solveFactored(factor, unit(i))[i]!) }))
}

function residuals(
  y: Float64Array,
  parts: readonly Part[],
  setting: readonly number[],
  found: Found,
  loose: Float64Array,
): Float64Array {
  const expected = expectedParts(y, parts, setting, found, loose)
  return y.map(
    (value, k) =>
      value + found.loss[setting[k]!]! - parts.reduce((sum, { values }, i) => sum + values[k]! * expected[i]!.value, 0),
  )
}

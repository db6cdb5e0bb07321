import { fuelNeeded } from '../../fuel/mixture'
import { interpolate } from '../../table/lookup'
import { correctedBy } from '../readings/correctedBy'
import type { FieldOptions } from '../field'
import type { LagEstimate } from '../lag/lag'
import { QUICK_STEPS } from './learnScales'
import { place, type Placement } from '../readings/placement'
import { posteriorField, type Posterior } from './posterior'
import { readingStep, stepDoubt } from '../readings/readingStep'
import { keepSamples, type Samples } from '../readings/samples'
import { solveField } from './solve'

/** ln of the fuel needed, of one cylinder, with the closed loop's trims taken in; NaN where it has no reading. */
export function logRatio(options: FieldOptions, samples: Samples, lambda: Float32Array): Float32Array {
  const { grid, target } = options
  const { trim } = samples
  const first = target[0]![0]!
  const flat = target.every((cells) => cells.every((value) => value === first))
  return lambda.map((value, i) =>
    Math.log(
      fuelNeeded(
        value,
        flat ? first : interpolate(grid, target, samples.rpm[i]!, samples.load[i]!),
        trim ? trim[i]! : 1,
      ),
    ),
  )
}

/** ln of the fuel needed where the loop holds: it has the mixture at its own lambda, so its trims alone tell what the table is short of. */
export function needByTrim(_options: FieldOptions, { trim }: Samples, lambda: Float32Array): Float32Array {
  return lambda.map((_, i) => Math.log(trim ? trim[i]! : 1))
}

/** Samples on the grid, and the field solved from them. */
export interface Solved {
  samples: Samples
  placement: Placement
  /** ln of the need, by sample */
  need: Float32Array
  /** step in which its lambda is written */
  step: number
  solution: ReturnType<typeof solveField>
}

/** Least scale of a reading, in the steps that it is written in: what lies one step away is no outlier. */
const STEPS = 0.7

export function solveCylinder(
  options: FieldOptions,
  cylinder: number,
  samples: Samples,
  from?: Solved | null,
  need = logRatio,
): Solved | null {
  const lambda = samples.lambda[cylinder]!
  const here = lambda.some(Number.isNaN)
    ? keepSamples(
        samples,
        Uint8Array.from(lambda, (value) => (Number.isNaN(value) ? 0 : 1)),
      )
    : samples
  if (here.count === 0) return null
  const placement = place(options.grid, here.rpm, here.load)
  const y = asNow(options, cylinder + 1, here, need(options, here, here.lambda[cylinder]!))
  const step = readingStep(here.lambda[cylinder]!)
  const solve = { ...options.solve, leastScale: STEPS * step }
  return {
    samples: here,
    placement,
    need: y,
    step,
    solution: solveField(options.grid, placement, y, solve, from?.solution),
  }
}

/** Needs as they would be on the present tables: less what was added since each run. */
function asNow(
  { grid, since }: FieldOptions,
  cylinder: number,
  { run, rpm, load }: Samples,
  y: Float32Array,
): Float32Array {
  if (since.every((one) => one.length === 0)) return y
  return y.map((value, i) =>
    (since[run[i]!] ?? [])
      .filter((one) => one.cylinder === null || one.cylinder === cylinder)
      .reduce((left, one) => left - Math.log(interpolate(grid, one.factor, rpm[i]!, load[i]!)), value),
  )
}

/** A solved field with its posterior. */
export interface Known extends Solved {
  posterior: Posterior
}

/** Error of a lag that nothing determines, s. */
const LAG_DOUBT = 0.06

/** @param known the same of before, whose scales a quick look takes */
export function withDoubt(
  options: FieldOptions,
  cylinder: number,
  lag: LagEstimate,
  solved: Solved | null,
  known: Known | null = null,
): Known | null {
  if (!solved) return null
  const { placement, samples, need: y, step, solution } = solved
  const { grid, mostSamples } = options
  const steps = mostSamples === null ? undefined : QUICK_STEPS
  const error = lag.error ?? (lag.from === 'fixed' ? 0 : LAG_DOUBT)
  return {
    ...solved,
    posterior: posteriorField(grid, placement, samples, y, solution, error, {
      steps,
      known: mostSamples === null ? null : known?.posterior.scales,
      corrected: correctedBy(grid, options.corrected, cylinder),
      coarse: stepDoubt(step, solution.scale),
    }),
  }
}

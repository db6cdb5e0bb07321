import { solveFactored, type Banded } from '../../numbers/banded'
import { studentQuantile95 } from '../../numbers/studentT'
import { diagonal, selectedInverse } from '../../numbers/selectedInverse'
import type { LoadGrid } from '../../table/table'
import type { Conditioned } from './conditioned'
import { conditionBy, learnScales, USUAL_SCALES, type Scales } from './learnScales'
import { bendsAtNodes, systematic } from '../faults/doubts'
import { raised, stretchesOf, sumOverNodes } from './nodeSums'
import { fitted, passesThroughCells, type Passes } from './passes'
import type { Placement } from '../readings/placement'
import type { Samples } from '../readings/samples'
import type { Solution } from './reweigh'
import { windowsOver } from '../readings/windows'

/** Field with its doubt, by node. */
export interface Posterior {
  /** ln(lambda / target) */
  x: Float64Array
  /** deviation of the estimate, ln lambda, with everything that is doubted */
  deviation: Float64Array
  /** the field given the readings, whose factor tells how its nodes hang together */
  conditioned: Conditioned
  /** degrees of freedom that its deviation rests on */
  freedom: number
  /** what the readings taught of its smoothness, and of how runs differ */
  scales: Scales
}

/** What may be said of a field beside its readings. */
interface PosteriorChoice {
  /** of the search for the scales, as factors; the usual ones when left out */
  steps?: readonly number[] | undefined
  /** scales that were learnt before from these readings, or from as good as these: they are not sought again */
  known?: Scales | null | undefined
  /** ln of fuel by node that was corrected since the field was first seen: what was there before it is smooth, what is left is not */
  corrected?: Float64Array | undefined
  /** what coarse steps of the gauge may hide, one deviation of ln lambda */
  coarse?: number | undefined
}

/**
 * The field as a posterior: smooth on the table's own cells as far as the readings teach, with a level of its own for
 * each run, robust weights kept, and the doubts of lag, bends between cells and tube carried into every cell.
 *
 * @param y ln of the need, by sample
 * @param solution robust solve of the same samples: its weights are kept
 * @param lagError s
 */
export function posteriorField(
  grid: LoadGrid,
  p: Placement,
  samples: Samples,
  y: Float32Array,
  solution: Pick<Solution, 'x' | 'weight' | 'scale'>,
  lagError: number,
  { steps, known = null, corrected, coarse = 0 }: PosteriorChoice = {},
): Posterior {
  const stretches = stretchesOf(samples)
  const plain = sumOverNodes(p, y, solution.weight, stretches)
  const sums = corrected ? raised(plain, corrected) : plain
  const left = (field: Conditioned): Conditioned =>
    corrected ? { ...field, x: field.x.map((one, k) => one - corrected[k]!) } : field
  const windows = windowsOver(p.count)
  const noise = solution.scale ** 2
  const passesAbout = (field: Conditioned, variance: number): Passes =>
    passesThroughCells(p, y, solution.weight, stretches.stretch, left(field), fitted(sums, field, variance), windows)
  const first = passesAbout(conditionBy(grid, sums, known ?? USUAL_SCALES, 4 * noise), 4 * noise)
  const taken = Math.max(noise, first.variance)
  const learnt = known ? null : learnScales(grid, sums, taken, steps)
  const scales = known ?? learnt!.scales
  const { variance: independent, freedom } = learnt ? passesAbout(learnt.conditioned, taken) : first
  const reading = Math.max(noise, independent)
  const whole = conditionBy(grid, sums, scales, reading)
  const final = left(whole)
  const variance = diagonal(selectedInverse(final.factor))
  addLevels(variance, final, levelsFactor(final.levelFactor, scales.level ** 2, stretches.stretches))
  const bends = bendsAtNodes(grid, whole.x)
  const doubts = systematic(grid, p, samples, solution.weight, final.x, bends, windows)
  const toField = (push: Float64Array): Float64Array =>
    solveFactored(
      final.factor,
      push.map((one) => one / reading),
    )
  const [byLag, byBend, byTube] = [doubts.lag, doubts.bend, doubts.tube].map(toField) as [
    Float64Array,
    Float64Array,
    Float64Array,
  ]
  return {
    x: final.x,
    deviation: variance.map((one, k) =>
      Math.sqrt(
        one +
          (lagError * byLag[k]!) ** 2 +
          (KNOWN_PUSH * byBend[k]!) ** 2 +
          (TUBE_DOUBT * byTube[k]!) ** 2 +
          coarse ** 2,
      ),
    ),
    conditioned: final,
    freedom,
    scales,
  }
}

/**
 * What bends within cells push a field by is known: an interval of 90 % that is to hold the truth in spite of a push of half to
 * twice its deviation is as wide as if this share of it were one more deviation.
 */
const KNOWN_PUSH = 0.9
/** What a tailpipe tube at little flow may be off by (ln lambda), beyond its scatter; as one deviation. */
const TUBE_DOUBT = 0.012

/** What the usual spread of levels is worth, in levels that were seen. */
const USUAL_LEVELS = 3

/**
 * How much wider what levels add is than it would be were their spread known: it was learnt from as many of them as
 * readings tell apart from the field.
 */
function levelsFactor(levelFactor: Banded, level: number, stretches: number): number {
  const left = diagonal(selectedInverse(levelFactor)).subarray(0, stretches)
  const told = left.reduce((sum, one) => sum + Math.max(0, 1 - one / level), 0)
  return studentQuantile95(USUAL_LEVELS + told) / studentQuantile95(Infinity)
}

/** What not knowing the levels adds: the diagonal of Z S^-1 Z'. */
function addLevels(variance: Float64Array, { pull, levelFactor }: Conditioned, factor: number): void {
  const row = new Float64Array(pull.length)
  for (let k = 0; k < variance.length; k++) {
    for (let g = 0; g < pull.length; g++) row[g] = pull[g]![k]!
    const solved = solveFactored(levelFactor, row)
    for (let g = 0; g < pull.length; g++) variance[k]! += factor ** 2 * row[g]! * solved[g]!
  }
}

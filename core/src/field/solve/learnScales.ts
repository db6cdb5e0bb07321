import { cholesky, type Banded } from '../../numbers/banded'
import { logDeterminant } from '../../numbers/selectedInverse'
import type { LoadGrid } from '../../table/table'
import { conditionField, conditionLevels, levelsGiven, type Conditioned, type Unlevelled } from './conditioned'
import type { NodeSums } from './nodeSums'
import { priorPrecision, sharedPrecision, type Smoothness } from './prior'

/** What readings taught of a field's smoothness and of how runs differ. */
export interface Scales extends Smoothness {
  /** deviation of the level of one run, ln lambda */
  level: number
}

/** Taken where readings tell little. */
export const USUAL_SCALES: Scales = { rpm: 400, load: 1200, third: 0, shared: 1200, level: 0.003 }
/** Scales that a search goes along; the others have factors of their own. */
type Sought = Exclude<keyof Scales, 'third' | 'shared'>
/** Scales that are strange where they are far from usual. */
const HELD_SCALES = ['rpm', 'load', 'shared', 'level'] as const
/** What readings may teach, as factors about the usual: along load an engine may well need a straight line, along rpm never. */
const BOUNDS: Record<Sought, [number, number]> = {
  rpm: [1 / 60, 3],
  load: [1 / 60, 32],
  level: [1 / 3, 6],
}
/** How firmly the usual ones are held, as a deviation of their logarithm. */
const HELD = 3
/** Steps of the search, as factors, from wide to narrow. */
const STEPS = [8, 2.5, 1.4]
/** The same for a quick look. */
export const QUICK_STEPS: readonly number[] = [5]
/**
 * Engines whose need bends along load evenly, and no more at one opening than beside it: their bends may be larger, and what
 * they are at the stops tells more of what lies between. Tried in place of the strength of bends that was found, as its factors.
 */
const EVEN_BENDS = [
  { load: 1, third: 0.3 },
  { load: 1, third: 1 },
  { load: 1 / 4, third: 1 },
]
/** Cost of one scale more (Akaike): few runs tell little of how bends change, and bends that nobody saw are no even ones. */
const PARAMETER = 2
/** How much straighter than usual a field may be along load as far as all speeds share it, as factors that are tried. */
const STRAIGHTER = [4, 16, 64]

/**
 * The scales under which the readings are most likely, by a search along each in turn.
 *
 * @param reading variance of one reading
 * @param steps of the search, as factors
 * @see Patterson and Thompson (1971) for restricted likelihood; Rasmussen and Williams (2006), ch. 5
 */
export function learnScales(
  grid: LoadGrid,
  sums: NodeSums,
  reading: number,
  steps: readonly number[] = STEPS,
): { scales: Scales; conditioned: Conditioned } {
  interface Tried {
    cost: number
    scales: Scales
    field: Unlevelled
  }
  const tried = (scales: Scales, field = fieldBy(grid, sums, scales, reading)): Tried => {
    const strange = HELD_SCALES.reduce((sum, key) => sum + (Math.log(scales[key] / USUAL_SCALES[key]) / HELD) ** 2, 0)
    const cost = levelsGiven(field, scales.level ** 2).deviance + strange + (scales.third > 0 ? PARAMETER : 0)
    return { cost, scales, field }
  }
  const search = (from: Tried, keys: readonly Sought[]): Tried => {
    let best = from
    for (const step of steps)
      for (const key of keys)
        for (const way of [step, 1 / step]) {
          let moved = false
          for (;;) {
            const [least, most] = BOUNDS[key]
            const next = best.scales[key] * way
            if (next < least * USUAL_SCALES[key] || next > most * USUAL_SCALES[key]) break
            // The field itself does not hang on how runs differ.
            const one = tried({ ...best.scales, [key]: next }, key === 'level' ? best.field : undefined)
            if (!(one.cost < best.cost)) break
            best = one
            moved = true
          }
          if (moved) break
        }
    return best
  }
  // A bend along load that all speeds share looks like levels of the runs at that stop. How runs differ is told by runs in
  // the same cells: under a field that may bend along load as it likes.
  const loose = { ...USUAL_SCALES, load: BOUNDS.load[0] * USUAL_SCALES.load }
  const { level } = search(tried(loose), ['level']).scales
  const likeliest = (from: Tried, others: readonly Scales[]): Tried =>
    (steps.length > 1 ? others : [])
      .map((scales) => tried(scales))
      .reduce((least, one) => (one.cost < least.cost ? one : least), from)
  const found = search(tried({ ...USUAL_SCALES, level }), ['rpm', 'load'])
  const even = likeliest(
    found,
    EVEN_BENDS.map(({ load, third }) => ({
      ...found.scales,
      load: load * found.scales.load,
      third: third * found.scales.load,
    })),
  )
  // What bends at some speeds alone does not tell how much all bend together.
  const best = likeliest(
    even,
    STRAIGHTER.map((factor) => ({ ...even.scales, shared: factor * USUAL_SCALES.shared })),
  )
  return { scales: best.scales, conditioned: conditionLevels(best.field, best.scales.level ** 2) }
}

/** The field under given scales. */
export function conditionBy(grid: LoadGrid, sums: NodeSums, scales: Scales, reading: number): Conditioned {
  return conditionLevels(fieldBy(grid, sums, scales, reading), scales.level ** 2)
}

function fieldBy(grid: LoadGrid, sums: NodeSums, smoothness: Smoothness, reading: number): Unlevelled {
  const precision = priorPrecision(grid, smoothness)
  const shared = sharedPrecision(grid, smoothness)
  return conditionField(
    sums,
    {
      precision,
      logDeterminant: determinantOf(grid, smoothness, precision),
      shared: { precision: shared, logDeterminant: logDeterminant(cholesky(shared)) },
    },
    reading,
  )
}

/** By grid and scales: ln of the determinant of the prior's precision. Searches go over the same scales again and again. */
const determinants = new WeakMap<LoadGrid, Map<string, number>>()

function determinantOf(grid: LoadGrid, { rpm, load, third }: Smoothness, precision: Banded): number {
  const known = determinants.get(grid) ?? new Map<string, number>()
  determinants.set(grid, known)
  const key = `${rpm} ${load} ${third}`
  const value = known.get(key) ?? logDeterminant(cholesky(precision))
  known.set(key, value)
  return value
}

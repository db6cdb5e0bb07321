import { factorFromPercent } from '../fuel/mixture'
import { bandEdges } from './bandEdges'
import { bandAt, fitValues, type Bands } from './bandValues'
import type { Given } from './left'
import { pointsOf } from './points'
import type { Axis } from './raster'
import { cellsUnderLoad, type Wanted } from './wanted'

/** How a module splits the range. */
export interface BandsAsked {
  axis: Axis
  bands: number
  /** where one band ends and the next begins, one less than bands; chosen when left out */
  edges?: readonly number[] | undefined
  /** width of the straight change from one to the next, centred on the edge */
  crossover?: number | undefined
}

/** Bands that leave the least under the rule for load, and what they would be without it. */
export interface FittedBands {
  ruled: Bands
  free: Bands
}

/** Factor that bands give. */
export function givenByBands({ axis, edges, values, crossover }: Bands): Given {
  return (rpm, load) => {
    const [band, upper] = bandAt(edges, crossover, axis === 'rpm' ? rpm : load)
    return factorFromPercent(values[band]! * (1 - upper) + (values[band + 1] ?? 0) * upper)
  }
}

/**
 * Values of two to five bands, and their edges where none are given, that leave the least cost; no cell from 70 % load up
 * is left more than 2 % lean.
 *
 * Without a crossover each band has one factor of its own (`oneFactor`), and edges are found by dynamic programming over the
 * places between cells: exact. With one, values come of a quadratic program at each step, and edges are moved while it gains.
 *
 * @throws RangeError when nothing is wanted
 */
export function fitBands(wanted: Wanted, asked: BandsAsked): FittedBands {
  const crossover = asked.crossover ?? 0
  const edges = asked.edges ? [...asked.edges] : bandEdges(wanted, asked.axis, asked.bands, crossover)
  const points = pointsOf(wanted)
  const cells = cellsUnderLoad(wanted)
  return {
    ruled: fitValues(points, cells, asked.axis, edges, crossover).bands,
    free: fitValues(points, [], asked.axis, edges, crossover).bands,
  }
}

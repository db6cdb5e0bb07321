import { factorBetween } from '../change/applyFactor'
import type { TableSince } from '../change/sinceMeasured'
import { predictLambda, suggestChange, type SuggestedChange } from '../change/suggest'
import type { Field } from '../field/field'
import type { Matrix, SparseMatrix, Table } from '../table/table'
import { measuredFlatness, provePrediction, type MeasuredFlatness, type Proof } from './flatness'

/** A fuel table that the loop corrects: the cylinder it serves, null for all. */
export interface LoopTable {
  cylinder: number | null
  table: Table
}

/** What a pass came to, and what it asks for. */
export interface LoopStep {
  flatness: MeasuredFlatness
  /** in the order of the tables; empty while what changed since the runs is not known */
  changes: SuggestedChange[]
  /** changed cells, over all tables */
  changed: SuggestedChange['nodes'][number]
}

/**
 * One step of measure, correct, repeat: how flat the field of a pass is, and the change of each table that it asks for.
 *
 * @param since tables that moved after the runs were made; null while that is not known
 * @example
 * const { flatness, changes } = loopStep(fieldOfPasses(runs, before, options), tables)
 */
export function loopStep(
  field: Field,
  tables: readonly LoopTable[],
  since: readonly TableSince[] | null = [],
): LoopStep {
  const changes =
    since === null ? [] : tables.map(({ cylinder, table }) => suggestChange(table, field, undefined, cylinder, since))
  return {
    flatness: measuredFlatness(field),
    changes,
    changed: changes.flatMap(({ nodes }) => nodes.flat().filter((node) => node.changePct !== 0)),
  }
}

/** A table of the loop with its values before the last correction. */
export interface CorrectedTable extends LoopTable {
  before: Matrix
}

/**
 * What the last correction was to bring against what was measured after it; null where no cell tells.
 *
 * @param before field that the correction was made from
 * @param after field measured with the tables as they are now
 */
export function proveStep(before: Field, tables: readonly CorrectedTable[], after: Field): Proof | null {
  const predicted = new Map<number, SparseMatrix>()
  for (const { cylinder: serves, table, before: was } of tables) {
    const factors = table.values.map((row, r) => row.map((value, k) => factorBetween(was[r]![k]!, value, table)))
    for (const { cylinder } of before.cylinders)
      if (serves === null || serves === cylinder) predicted.set(cylinder, predictLambda(before, cylinder, factors))
  }
  return provePrediction(predicted, after)
}

/** A set of runs as the loop sees it. */
interface PassSet {
  id: string
  pass: number | null
}

/**
 * Sets of the loop's passes, oldest first; the last is the newest set. Runs made before a loop was begun are its first
 * pass; a loop begun anew leaves the ones before alone.
 *
 * @param sets of a job, oldest first
 */
export function passSets<S extends PassSet>(sets: readonly S[]): S[] {
  const newest = sets.at(-1)
  if (!newest) return []
  const passes = [newest]
  for (let k = sets.length - 2; k >= 0 && passNumber(passes[0]!) > 1; k--)
    if (passNumber(sets[k]!) === passNumber(passes[0]!) - 1) passes.unshift(sets[k]!)
  return passes
}

/** Which pass a set is, from 1. */
export function passNumber(set: Pick<PassSet, 'pass'> | undefined): number {
  return set?.pass ?? 1
}

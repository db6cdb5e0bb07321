import type { CommandedUnlike } from '../field/readings/commandedByLog'
import { counted, grouped, plain } from '../numbers/format'

/**
 * That a log was commanded another lambda than the table says, as a sentence.
 *
 * @param unit of the loads; @param mixture how a person reads a mixture
 * @example
 * commandedWords(unlike, '%', (lambda) => `λ ${lambda.toFixed(2)}`)
 */
export function commandedWords(
  { cells, worst: { rpm, load, logged, table } }: CommandedUnlike,
  unit: string,
  mixture: (lambda: number) => string,
): string {
  return `The log was commanded ${mixture(logged)} where the table says ${mixture(table)} (${grouped(Math.round(rpm))} rpm, ${plain(load, 0)} ${unit}; ${counted(cells, 'cell is', 'cells are')} off): the controller works by another table, or adds to this one. The filling is judged by what the log says.`
}

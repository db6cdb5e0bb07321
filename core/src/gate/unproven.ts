import { counted } from '../numbers/format'
import type { Shelf } from '../contract/shelf'
import type { Danger } from './danger'

/** Runs from which a calibration counts as proven: fewer are no trend (common practice). */
const PROVEN_RUNS = 3

/** A calibration that was kept before runs on it had shown how far it holds. */
export function unprovenStart({ name, table, proven }: Pick<Shelf, 'name' | 'table' | 'proven'>): Danger[] {
  if (!table || proven.runs >= PROVEN_RUNS) return []
  return [
    {
      kind: 'unproven start',
      field: 'shelf',
      text: `"${name}" was proven by ${proven.runs === 0 ? 'no run made on it' : counted(proven.runs, 'run')}. An engine that starts on it may be far off anywhere. Say why it is taken, and begin with small openings.`,
    },
  ]
}

import type { TableInfo } from '../contract/table'
import type { Untold } from '../question/madeOn'
import { counted } from '../numbers/format'
import { passGate } from './passGate'

/**
 * Asks on which state of a table some runs were made, before anything is suggested from them.
 *
 * @throws Refusal 'state-not-told' when of some runs it is not known for one of the tables
 */
export function needsState(
  untold: readonly Untold[],
  tables: readonly Pick<TableInfo, 'id' | 'name' | 'revisions'>[],
): void {
  const dangers = untold.map(({ table: id, runs, revisions }) => {
    const table = tables.find((one) => one.id === id)!
    const named = revisions.map((n) => `${n} ("${table.revisions.find((one) => one.n === n)!.reason}")`).join(', ')
    return {
      kind: 'state not told' as const,
      field: 'runs',
      text: `Of ${counted(runs.length, 'run')} it is not known on which state of "${table.name}" they were made: they came before it, or the controller held what is no revision of it. It may be ${named}. Save what was in the controller as a revision where it is none of these, then say which: POST /jobs/{job}/made-on with table and revision.`,
      never: true as const,
      lines: revisions.map((n) => ({ field: `tables.${id}.revisions`, message: `may be revision ${n}` })),
      more: { untold },
    }
  })
  passGate(dangers, undefined)
}

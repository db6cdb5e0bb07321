import {
  checkTable,
  factorBetween,
  firstValues,
  interpolate,
  largeSteps,
  overfilled,
  passGate,
  tableSteps,
  type Job,
  type SettingsOf,
  type Table,
  type TableInfo,
  type WayAsked,
} from '@yuzumix/core'
import { addRevisions, type RevisionOf } from '../../store/revisions'
import type { Workshop } from '../questions/ask'
import { judgeSteps } from './judgeSteps'
import { nextOf, type Taken } from './wayOntoTable'

/**
 * Filling and commanded lambda as one act: both act together on the fuel, and are judged together.
 *
 * @throws Refusal where the gate wants a reason
 */
export async function saveFilling(
  workshop: Workshop,
  job: Job,
  { way, settings, runs, tables }: Taken,
  reason = 'Filling by what was measured over what was commanded',
  override?: string,
): Promise<TableInfo[]> {
  const { filling, target } = settings as SettingsOf['filling']
  const asked = way as Extract<WayAsked, { kind: 'filling' }>
  const own = tables.find((one) => one.table === asked.table)!
  const next = nextOf(own, filling, runs, reason)
  const after: Table = { ...own.table, values: next.values }
  const commanding = target ? tables.find((one) => one.table === asked.commanded) : undefined
  const intended = target && commanding && checkTable({ ...commanding.table, values: target.values })
  const whole = intended ? { ...after, values: asFuel(after, commanding!.table, intended) } : after
  const { steps, from } = await judgeSteps(workshop, job, own, whole)
  const lines = passGate(
    [
      ...tableSteps('filling', steps, from),
      ...(intended ? tableSteps('lambda target', stepsOf(commanding!.table, intended), 'what was commanded') : []),
      ...overfilled(own.table, after, 'filling.'),
      ...(intended ? firstValues(intended, 'target.') : []),
    ],
    override,
  )
  const given = lines.length ? override : undefined
  const revisions: RevisionOf[] = [{ ...next, override: given, lines }]
  if (intended && commanding)
    revisions.push({
      table: commanding.id,
      parent: commanding.revisions.at(-1)!.n,
      reason: `Lambda commanded as intended: ${asked.intent}`,
      runs: [],
      values: intended.values,
      override: given,
    })
  return (await addRevisions(workshop.store, job.id, revisions))!
}

const stepsOf = (before: Table, after: Table) => largeSteps(after, { measured: before, parent: before })

/** Cells of a table of filling as they would stand if the commanded lambda had stayed: the fuel of both together. */
function asFuel(filling: Table, before: Table, after: Table): number[][] {
  return filling.values.map((cells, row) =>
    cells.map((one, column) => {
      const at = [filling.rpm[column]!, filling.load[row]!] as const
      const [then, now] = [before, after].map((table) => interpolate(table, table.values, ...at))
      return one * factorBetween(then!, now!, before)
    }),
  )
}

import {
  madeLater,
  passGate,
  type RunChange,
  type RunInfo,
  type RunsChange,
  type RunSet,
  type TableInfo,
} from '@yuzumix/core'
import type { Store } from '../../store/database'
import { changeRun, changeRuns, findRun, listRuns } from '../../store/runs'
import { listSets } from '../../store/sets'
import { listTables } from '../../store/tables'

/**
 * Changes a run.
 *
 * @returns null when there is no such run
 * @throws what the gate refuses, when it would be taken for made on a state younger than itself, and nobody says how that is known
 */
export async function changeRunAsked(
  store: Store,
  job: string,
  id: string,
  { override, ...change }: RunChange,
): Promise<RunInfo | null> {
  const run = await findRun(store, job, id)
  if (!run) return null
  const { revisions } = change
  const lines = revisions ? passGate(madeLater(run, await listTables(store, job), revisions), override) : []
  return changeRun(store, job, id, change, lines)
}

/** Number of a run in a name for several. */
const NUMBER = '#'

/**
 * Changes several runs in one act.
 *
 * @returns the runs as they are now, in the order asked for; null when one of them is not in the job
 * @throws what the gate refuses, as for one run
 */
export async function changeRunsAsked(
  store: Store,
  job: string,
  { runs: ids, override, name, ...change }: RunsChange,
): Promise<RunInfo[] | null> {
  const [all, tables] = await Promise.all([
    Promise.all([listRuns(store, job), listRuns(store, job, true)]),
    listTables(store, job),
  ])
  const known = new Map(all.flat().map((run) => [run.id, run]))
  const runs = ids.flatMap((id) => known.get(id) ?? [])
  if (runs.length < ids.length) return null
  const { revisions } = change
  const dangers = revisions ? runs.flatMap((run) => madeLater(run, tables, revisions)) : []
  const lines = passGate(dangers, override)
  // One run by itself needs no number.
  const pattern = name?.includes(NUMBER) || ids.length === 1 ? name! : `${name} ${NUMBER}`
  const named = (k: number) => (name === undefined ? {} : { name: pattern.replaceAll(NUMBER, String(k + 1)) })
  const sets = change.set === undefined ? [] : await listSets(store, job)
  const changes = new Map(ids.map((id, k) => [id, { ...change, ...named(k) }]))
  const { acts, how } = saidOf({ ...change, name }, sets, tables)
  const text = `${runs.length} runs${how}: ${runs.map((run) => run.name).join(', ')}`
  const done = await changeRuns(store, job, changes, [acts, text.slice(0, MOST_SAID)], lines)
  if (!done) return null
  const now = new Map(
    (await Promise.all([listRuns(store, job), listRuns(store, job, true)])).flat().map((run) => [run.id, run]),
  )
  return ids.map((id) => now.get(id)!)
}

/** Signs of a line in the logbook. */
const MOST_SAID = 1900

/** What was done with several runs, and how, in words. */
function saidOf(
  { removed, leftOut, revisions, set, name, kind }: Omit<RunsChange, 'runs' | 'override'>,
  sets: readonly RunSet[],
  tables: readonly TableInfo[],
): { acts: string; how: string } {
  const nameOf = (all: readonly { id: string; name: string }[], id: string): string =>
    all.find((one) => one.id === id)?.name ?? id
  const on = Object.entries(revisions ?? {}).map(([id, n]) => `revision ${n} of ${nameOf(tables, id)}`)
  const said: [act: string, how: string][] = []
  if (removed !== undefined) said.push([removed ? 'taken out' : 'put back', ''])
  if (set !== undefined) said.push(['moved', ` to ${nameOf(sets, set)}`])
  if (on.length) said.push(['made on', ` on ${on.join(', ')}`])
  if (leftOut !== undefined) said.push(leftOut ? ['left out', ` for ${leftOut.reason}`] : ['taken in again', ''])
  if (name !== undefined) said.push(['renamed', ` to ${name}`])
  if (kind !== undefined) said.push(['changed', ` to ${kind}`])
  return { acts: `runs ${said.map(([act]) => act).join(', ') || 'changed'}`, how: said.map(([, how]) => how).join(',') }
}

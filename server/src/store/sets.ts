import { randomUUID } from 'node:crypto'
import { literal, Op, QueryTypes, type Transaction } from 'sequelize'
import { refused, carriedOver, DEFAULT_SET, type NewSet, type RunSet, type SetChange } from '@yuzumix/core'
import type { Store } from './database'
import { writeEntry } from './entries'
import type { SetRow } from './models'

/** Name of the set that a job's first runs go to. */
const FIRST_SET = 'Baseline'

function toSet(row: SetRow, runCount: number): RunSet {
  const { id, jobId, name, data, createdAt } = row
  return { ...DEFAULT_SET, ...data, id, job: jobId, name, runCount, createdAt }
}

async function countRuns(store: Store, where: { job?: string; set?: string }): Promise<Map<string, number>> {
  const rows = await store.sequelize.query<{ setId: string; n: number }>(
    `SELECT setId, COUNT(*) AS n FROM runs WHERE removed = 0 AND ($job IS NULL OR jobId = $job) AND ($set IS NULL OR setId = $set) GROUP BY setId`,
    { type: QueryTypes.SELECT, bind: { job: where.job ?? null, set: where.set ?? null } },
  )
  return new Map(rows.map((row) => [row.setId, row.n]))
}

/** Jobs that were not deleted. */
const THERE = literal('(SELECT id FROM jobs WHERE deletedAt IS NULL)')

/** Sets of a job in their order; of all jobs that are there when none is named. */
export async function listSets(store: Store, jobId?: string): Promise<RunSet[]> {
  const [rows, counts] = await Promise.all([
    store.models.sets.findAll({ where: { jobId: jobId ?? { [Op.in]: THERE } }, order: [['position', 'ASC']] }),
    countRuns(store, jobId ? { job: jobId } : {}),
  ])
  return rows.map((row) => toSet(row.get(), counts.get(row.get().id) ?? 0))
}

/** A set by its id; of that job only, when one is named. */
export async function findSet(store: Store, id: string, jobId?: string): Promise<RunSet | null> {
  const row = await store.models.sets.findOne({ where: { id, ...(jobId && { jobId }) } })
  return row ? toSet(row.get(), (await countRuns(store, { set: id })).get(id) ?? 0) : null
}

/** Stores a set in the transaction given. */
export async function insertSet(
  store: Store,
  transaction: Transaction,
  jobId: string,
  { name, ...data }: NewSet,
): Promise<string> {
  const id = randomUUID()
  const position = ((await store.models.sets.max('position', { where: { jobId }, transaction })) as number | null) ?? -1
  await store.models.sets.create(
    { id, jobId, name, data, position: position + 1, createdAt: new Date().toISOString() },
    { transaction },
  )
  return id
}

/** The set that new runs go to: the newest, made where there is none. */
export async function newestSet(store: Store, transaction: Transaction, jobId: string): Promise<string> {
  const row = await store.models.sets.findOne({ where: { jobId }, order: [['position', 'DESC']], transaction })
  return row ? row.get().id : insertSet(store, transaction, jobId, { name: FIRST_SET })
}

/** Makes a set; what it does not say it keeps of the one before it. */
export async function createSet(store: Store, jobId: string, set: NewSet): Promise<RunSet> {
  const before = (await listSets(store, jobId)).findLast((one) => !one.figures) ?? null
  const id = await store.act(async (transaction) => {
    const made = await insertSet(store, transaction, jobId, carriedOver(set, before))
    await writeEntry(store, transaction, jobId, 'set made', set.name)
    return made
  })
  return (await findSet(store, id))!
}

/** Changes what is given and leaves the rest; null when there is no such set in the job. */
export async function changeSet(
  store: Store,
  jobId: string,
  id: string,
  { name, ...data }: SetChange,
): Promise<RunSet | null> {
  const found = await store.act(async (transaction) => {
    const row = await store.models.sets.findOne({ where: { id, jobId }, transaction })
    if (!row) return false
    const before = row.get()
    await row.update({ name: name ?? before.name, data: { ...before.data, ...data } }, { transaction })
    const what = Object.keys({ ...(name && { name }), ...data }).join(', ')
    await writeEntry(store, transaction, jobId, 'set changed', `${name ?? before.name}: ${what}`)
    return true
  })
  return found ? findSet(store, id) : null
}

/**
 * Deletes a set without runs; false when there is none.
 *
 * @throws Refusal 'set-in-use' when runs belong to it, also taken-out ones, which could be put back
 */
export async function deleteSet(store: Store, jobId: string, id: string): Promise<boolean> {
  return store.act(async (transaction) => {
    const row = await store.models.sets.findOne({ where: { id, jobId }, transaction })
    if (!row) return false
    const runs = await store.models.runs.count({ where: { setId: id }, transaction })
    if (runs)
      throw refused('set-in-use', `"${row.get().name}" has ${runs} runs. Move them to another set first.`, 'set')
    await writeEntry(store, transaction, jobId, 'set deleted', row.get().name)
    await row.destroy({ transaction })
    return true
  })
}

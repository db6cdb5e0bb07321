import type { Sequelize, Transaction } from 'sequelize'
import type { JobPart } from '@yuzumix/core'

/** Parts of a job that were changed by one act, once it is stored. */
export interface Change {
  job: string
  parts: JobPart[]
}

/** Which part of a job the rows of a model are. */
const PART_OF: Readonly<Record<string, JobPart>> = {
  jobs: 'job',
  sets: 'sets',
  runs: 'runs',
  tables: 'tables',
  revisions: 'tables',
  entries: 'entries',
  photos: 'entries',
  lines: 'handling',
  reports: 'reports',
  trainings: 'training',
}

/** What was touched in one transaction: parts by job; under an empty name those of whatever job the act was on. */
type Touched = Map<string, Set<JobPart>>

interface HookOptions {
  transaction?: Transaction | null
  where?: Record<string, unknown>
  model?: { name: string }
}
interface Row {
  constructor: { name: string }
  get(): Record<string, unknown>
}

/** Hears of every row that is written, and tells by job what an act has changed when it is stored. */
export function changesOf(sequelize: Sequelize) {
  const listeners = new Set<(change: Change) => void>()
  const touched = new WeakMap<Transaction, Touched>()

  function note(model: string | undefined, values: Record<string, unknown> | undefined, options: HookOptions): void {
    const part = PART_OF[model ?? '']
    if (!part || !options.transaction) return
    const id = part === 'job' ? values?.['id'] : values?.['jobId']
    const job = typeof id === 'string' ? id : ''
    const parts: Touched = touched.get(options.transaction) ?? new Map()
    parts.set(job, (parts.get(job) ?? new Set()).add(part))
    touched.set(options.transaction, parts)
  }
  const ofRow = (row: unknown, options: unknown): void => {
    const { constructor, get } = row as Row
    note(constructor.name, get.call(row), options as HookOptions)
  }
  const ofMany = (options: unknown): void => {
    const { model, where } = options as HookOptions
    note(model?.name, where, options as HookOptions)
  }
  sequelize.addHook('afterCreate', ofRow)
  sequelize.addHook('afterUpdate', ofRow)
  sequelize.addHook('afterDestroy', ofRow)
  sequelize.addHook('afterBulkUpdate', ofMany)
  sequelize.addHook('afterBulkDestroy', ofMany)

  const notify = (change: Change): void => listeners.forEach((listener) => listener(change))
  return {
    notify,
    listen(listener: (change: Change) => void): () => void {
      listeners.add(listener)
      return () => void listeners.delete(listener)
    },
    /** Tells what a transaction has changed; to be called once it is stored. */
    stored(transaction: Transaction): void {
      const parts = touched.get(transaction)
      if (!parts) return
      const ofAny = [...(parts.get('') ?? [])]
      for (const [job, own] of parts) if (job !== '') notify({ job, parts: [...new Set([...own, ...ofAny])] })
    },
  }
}
export type Changes = ReturnType<typeof changesOf>

import type { ChannelInfo, Entry, LeftOut, NewJob, RunKind, SetFacts, SparkSetting } from '@yuzumix/core'
import type { RevisionRow } from '../store/models'

/** Format name inside a job archive; see docs/job.schema.json. */
export const JOB_FORMAT = 'yuzumix-job/1'

/** A job archive that cannot be read. */
export class ArchiveError extends Error {
  constructor(
    message: string,
    readonly field = 'file',
  ) {
    super(message)
  }
}

export interface ArchivedRun {
  name: string
  kind: RunKind
  duration: number
  warnings: string[]
  gaugeScale: number | null
  digest: string
  channels: ChannelInfo[]
  samples: number
  /** place of its set in the list */
  set: number
  leftOut: LeftOut | null
  /** absent in archives from before runs had one */
  setting?: SparkSetting | null
  /** revision by table (its place in the list) that was in force; absent in archives from before runs had one */
  revisions?: Record<string, number>
  /** when it came into the job: by this a table is told to be newer; absent in older archives */
  createdAt?: string
  /** name of the CSV inside the archive */
  file: string
}

export interface ArchivedTable {
  name: string
  cylinder: number | null
  table: unknown
  revisions: Omit<RevisionRow, 'tableId'>[]
}

export interface ArchivedJob {
  format: typeof JOB_FORMAT
  job: NewJob & { archived?: boolean }
  sets: ({ name: string } & SetFacts)[]
  runs: ArchivedRun[]
  tables: ArchivedTable[]
  entries: Omit<Entry, 'id'>[]
}

import { array, type InferType } from 'yup'
import { choice, closed, count, id, text, time, words } from './fields'

/** Why a copy of the store was made. */
const BACKUP_KINDS = ['daily', 'asked for', 'before a migration', 'before a restore'] as const
export type BackupKind = (typeof BACKUP_KINDS)[number]

/** A copy of the whole store. */
export const backupSchema = closed({
  name: words(80).meta({ description: 'of its file in the folder "backups"' }),
  at: time().required(),
  kind: choice(BACKUP_KINDS).required(),
  bytes: count(),
}).meta({ ref: 'Backup' })
export type Backup = InferType<typeof backupSchema>

const heldJob = closed({ id: id(), title: words(200), createdAt: time().required() })

/** Answer of GET /backups. */
export const backupsSchema = closed({
  keeping: words(400).meta({ description: 'which are kept, in words' }),
  backups: array().of(backupSchema.required()).required(),
}).meta({ ref: 'Backups' })
export type Backups = InferType<typeof backupsSchema>

/** Answer of GET /backups/:backup: what it holds. */
export const heldSchema = closed({ jobs: array().of(heldJob.required()).required() }).meta({ ref: 'BackupHeld' })

/** Body of POST /backups/:backup/restore. */
export const restoreSchema = closed({
  job: text(80).min(1).meta({ description: 'one job, which comes in as a new one; the whole store when left out' }),
}).meta({ ref: 'RestoreBackup' })

/** Its answer. */
export const restoredSchema = closed({
  job: id().nullable().meta({ description: 'the new job; null where the whole store was restored' }),
}).meta({ ref: 'Restored' })

/** Days that a deleted job can be brought back. */
export const BIN_DAYS = 30

/** A job in the bin. */
export const binnedSchema = closed({
  id: id(),
  title: words(200),
  deletedAt: time().required(),
  goneAt: time().required().meta({ description: 'when it goes for good' }),
}).meta({ ref: 'BinnedJob' })
export type BinnedJob = InferType<typeof binnedSchema>

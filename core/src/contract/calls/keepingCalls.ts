import { object } from 'yup'
import {
  BIN_DAYS,
  backupSchema,
  backupsSchema,
  binnedSchema,
  heldSchema,
  restoredSchema,
  restoreSchema,
} from '../backup'
import { jobSchema } from '../job'
import { del, get, list, make, post } from './call'

const noBody = () => object({}).noUnknown()

/** Copies of the store, and the bin. */
export const keepingCalls = {
  backups: get('/backups', 'Copies of the whole store, newest first', { answer: backupsSchema }),
  makeBackup: make('/backups', 'records', 'Copy the whole store now', {
    body: noBody(),
    answer: backupSchema,
    problems: [422],
  }),
  backupHeld: get('/backups/{backup}', 'The jobs that a copy holds', { answer: heldSchema, problems: [422] }),
  restoreBackup: post(
    '/backups/{backup}/restore',
    'records',
    'Put a copy in the place of the whole store, which is copied before; or bring one job out of it, as a new one',
    { body: restoreSchema, answer: restoredSchema, problems: [409, 422] },
  ),
  bin: get('/bin', `Jobs that were deleted in the last ${BIN_DAYS} days, the last one first`, {
    answer: list(binnedSchema),
  }),
  bringBack: post('/bin/{binned}/restore', 'records', 'Bring a deleted job back', {
    body: noBody(),
    answer: jobSchema,
  }),
  dropBinned: del('/bin/{binned}', 'records', 'Let a deleted job go for good'),
}

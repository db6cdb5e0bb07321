import { rulesSchema } from '../rules'
import { TABLE_STEPS } from '../../refusal/dangers'
import { archiveFormSchema } from '../archive'
import { BIN_DAYS } from '../backup'
import { entrySchema, newEntrySchema } from '../entry'
import { jobChangeSchema, jobSchema, newJobSchema } from '../job'
import { healthSchema } from '../problem'
import { del, file, get, list, make, patch } from './call'
import { object, string } from 'yup'

const NEWS = `What changes of a job is told over a WebSocket at /jobs/{job}/news, each message a JobNews; after the link was cut,
ask for everything anew.`

/** Jobs, their archives and their logbooks. */
export const jobCalls = {
  health: get('/health', 'Whether the server is up', { answer: healthSchema }),
  document: get('/openapi.json', 'This document', { answer: object() }),
  rules: get('/rules', 'What the gate asks about at which call, and how far a change may go unasked', {
    answer: rulesSchema,
  }),
  jobs: get('/jobs', 'All jobs, newest first, archived ones last', { answer: list(jobSchema) }),
  createJob: make('/jobs', ['lean target'], 'Make a job; only the title is required', {
    body: newJobSchema,
    madeAt: '/jobs/{id}',
    answer: jobSchema,
  }),
  job: get('/jobs/{job}', 'One job', {
    description: NEWS,
    answer: jobSchema,
  }),
  changeJob: patch(
    '/jobs/{job}',
    ['lean target', 'limit loosened'],
    'Change what is given and leave the rest; archived true puts it in the archive',
    {
      body: jobChangeSchema,
      answer: jobSchema,
    },
  ),
  deleteJob: del(
    '/jobs/{job}',
    ['kept change'],
    `Delete a job with all it holds; it can be brought back for ${BIN_DAYS} days`,
    {
      query: {
        'override?': 'why it is not restored first, where its controller holds a kept change or a bench is connected',
      },
      problems: [409],
    },
  ),
  archive: get('/jobs/{job}/archive', 'The whole job as one zip of job.json (docs/job.schema.json) and a CSV per run', {
    answer: 'application/zip',
  }),
  readArchive: make('/archives', ['table values', ...TABLE_STEPS, 'lean target'], 'Make a job from an archive', {
    form: object({ file: file().required(), ...archiveFormSchema.fields }),
    madeAt: '/jobs/{id}',
    answer: jobSchema,
    problems: [409, 413, 422],
  }),
  entries: get('/jobs/{job}/entries', 'The logbook, newest first', { answer: list(entrySchema) }),
  addNote: make(
    '/jobs/{job}/entries',
    'records',
    'Write a note, with a photo if there is one, pinned to a run or to rpm and load',
    {
      form: object({
        ...newEntrySchema.fields,
        photo: string().meta({
          json: { type: 'string', format: 'binary', description: 'JPEG, PNG or WebP up to 10 MB' },
        }),
      }),
      answer: entrySchema,
      problems: [409, 413, 422],
    },
  ),
  photo: get('/jobs/{job}/entries/{entry}/photo', 'The photo of a note, as it was stored', { answer: 'image/*' }),
}

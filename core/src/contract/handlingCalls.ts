import { object, string } from 'yup'
import { TABLE_STEPS } from '../gate/danger'
import { complaintChangeSchema, newComplaintSchema } from './complaint'
import { del, get, list, make, patch, post, type Call } from './call'
import { entrySchema, newEntrySchema } from './entry'
import { fieldRequestSchema } from './field'
import { jobSchema } from './job'
import {
  newPutBackSchema,
  newRigLineSchema,
  probeCheckSchema,
  putBackChangeSchema,
  putBackSchema,
  rigLineChangeSchema,
  rigLineSchema,
} from './jobLines'
import { complaintFindingSchema, complaintSchema } from './complaint'
import { flatnessSchema, movedSchema, reportSchema, savedReportSchema } from './report'
import {
  againstShelfSchema,
  newShelfSchema,
  shelfDifferenceSchema,
  shelfMatchSchema,
  shelfSchema,
  shelfStartedSchema,
  shelfStartSchema,
} from './shelf'
import { verdictSchema } from './verdict'

/** Who reads a report, and in which units. */
const READER = {
  'for?': 'customer, or workshop: with where each figure stands',
  'state?': 'of a two-state part that it speaks of; all when left out',
  'power?': 'kW, hp or PS',
  'torque?': 'N·m or lb·ft',
  'mixture?': 'lambda or AFR',
}

const noBody = () => object({}).noUnknown()

/** Calls from taking a job in to handing it over. */
export const handlingCalls: readonly Call[] = [
  get('/jobs/{job}/complaints', 'What the rider complains of, pinned to where it is felt', {
    answer: list(complaintSchema),
  }),
  get('/jobs/{job}/complaint-findings', 'What was measured where each complaint is pinned, then and now', {
    answer: list(complaintFindingSchema),
  }),
  make('/jobs/{job}/complaints', 'records', 'Pin a complaint; 422 outside 0 to the rev ceiling', {
    body: newComplaintSchema,
    answer: complaintSchema,
    problems: [400, 409, 422],
  }),
  patch('/jobs/{job}/complaints/{complaint}', 'records', 'Change a complaint, or answer it', {
    body: complaintChangeSchema,
    answer: complaintSchema,
    problems: [400, 409, 422],
  }),
  del('/jobs/{job}/complaints/{complaint}', 'records', 'Take a complaint back', { problems: [409] }),
  get('/jobs/{job}/verdict', 'Whether it needs a retune, how deep, or is good enough; with reasons', {
    answer: verdictSchema,
  }),

  get('/jobs/{job}/rig', 'The rig list: made from the job, own lines, and those kept from like machines', {
    answer: list(rigLineSchema),
  }),
  make('/jobs/{job}/rig', 'records', 'Add a line of your own; it is offered for the next like machine', {
    body: newRigLineSchema,
    answer: rigLineSchema,
    problems: [400, 409],
  }),
  patch('/jobs/{job}/rig/{line}', 'records', 'Tick a line, or take the tick back', {
    body: rigLineChangeSchema,
    answer: rigLineSchema,
    problems: [400, 409],
  }),
  get('/jobs/{job}/probes', 'Probes that sit in one gas, checked against each other over the runs of the job', {
    answer: list(probeCheckSchema),
  }),
  get('/jobs/{job}/put-back', 'What was changed only for the session', { answer: list(putBackSchema) }),
  make('/jobs/{job}/put-back', 'records', 'Note something that has to be put back', {
    body: newPutBackSchema,
    answer: putBackSchema,
    problems: [400, 409],
  }),
  patch('/jobs/{job}/put-back/{line}', 'records', 'It is back; or it was left so, and who was told', {
    body: putBackChangeSchema,
    answer: putBackSchema,
    problems: [400, 409],
  }),

  get('/jobs/{job}/entries', 'The logbook, newest first', { answer: list(entrySchema) }),
  make(
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
      problems: [400, 409, 413, 422],
    },
  ),
  get('/jobs/{job}/entries/{entry}/photo', 'The photo of a note, as it was stored', { answer: 'image/*' }),

  get('/shelf', 'Calibrations kept from earlier jobs', { answer: list(shelfSchema) }),
  make('/shelf', 'records', 'Keep the latest revision of a table of a job', {
    body: newShelfSchema,
    answer: shelfSchema,
    problems: [400],
  }),
  get('/shelf/{shelf}', 'One of them', { answer: shelfSchema }),
  del('/shelf/{shelf}', 'records', 'Take a calibration off the shelf'),
  get('/jobs/{job}/shelf-matches', 'What on the shelf is near this job, nearest first', {
    answer: list(shelfMatchSchema),
  }),
  post(
    '/jobs/{job}/shelf-start',
    ['unproven start', ...TABLE_STEPS],
    'Take a calibration from the shelf as the start of this job',
    {
      body: shelfStartSchema,
      answer: shelfStartedSchema,
      problems: [400, 409, 422],
    },
  ),
  post(
    '/jobs/{job}/tables/{table}/against-shelf',
    'asks',
    'Has somebody been in here? A table against one from the shelf',
    {
      body: againstShelfSchema,
      answer: shelfDifferenceSchema,
      problems: [400, 422],
    },
  ),

  get('/jobs/{job}/tables/{table}/moved', 'What was changed between two revisions, by zone', {
    query: { 'from?': 'revision; the first when left out', 'to?': 'revision; the latest when left out' },
    answer: movedSchema,
  }),
  post('/jobs/{job}/flatness', 'asks', 'How far runs are off target', {
    body: fieldRequestSchema,
    answer: flatnessSchema,
    problems: [400, 422],
  }),
  get('/jobs/{job}/report.json', 'The report as it stands, each figure with where it comes from', {
    query: { 'state?': READER['state?'] },
    answer: reportSchema,
  }),
  get('/jobs/{job}/report.html', 'The same as one page that needs nothing else', {
    query: READER,
    answer: 'text/html',
  }),
  get('/jobs/{job}/report.pdf', 'The same for paper', {
    query: { ...READER, 'paper?': 'A4, or letter' },
    answer: 'application/pdf',
  }),
  get('/jobs/{job}/reports', 'Reports that were saved', { answer: list(savedReportSchema) }),
  make('/jobs/{job}/reports', 'records', 'Save the report as a revision of the job', {
    body: noBody(),
    answer: savedReportSchema,
    problems: [400, 409],
  }),
  post('/jobs/{job}/done', 'records', 'Hand the job over; 409 names what is open', {
    answer: jobSchema,
    problems: [409],
  }),
  post('/jobs/{job}/reopen', 'records', 'Open a job that was handed over', { answer: jobSchema, problems: [409] }),
]

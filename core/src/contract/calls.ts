import { number, object } from 'yup'
import { tableInputSchema, tableSaidSchema, tableSchema } from '../table/json'
import { TABLE_STEPS, type DangerKind } from '../gate/danger'
import { archiveFormSchema } from './archive'
import { airSchema, weatherSchema } from './air'
import {
  benchFaultsSchema,
  benchMachineSchema,
  benchSchema,
  benchStateSchema,
  benchWriteSchema,
  reasonedSchema,
  CALIBRATION_STEPS,
} from './bench'
import { del, file, get, list, make, patch, post, put, type Call, type More } from './call'
import { comparedSchema, compareRequestSchema } from './compare'
import {
  changeRequestSchema,
  changeSchema,
  fieldRequestSchema,
  fieldSchema,
  nextRunRequestSchema,
  nextRunSchema,
} from './field'
import { doubtSchema } from './doubt'
import { closed } from './fields'
import { handlingCalls } from './handlingCalls'
import { jettingAnswerSchema, jettingRequestSchema } from './jetting'
import { jobChangeSchema, jobSchema, newJobSchema } from './job'
import { loopRequestSchema, loopStepSchema } from './loop'
import { recheckSchema, runPlanSchema } from './plan'
import { healthSchema } from './problem'
import {
  columnsRequestSchema,
  handReadingsSchema,
  madeOnAnswerSchema,
  mappingSchema,
  readAsRequestSchema,
  runChangeSchema,
  runsChangeSchema,
  runSchema,
  uploadSchema,
} from './run'
import { plateRequestSchema, plateSchema, responseRequestSchema, responseSchema } from './response'
import { newSetSchema, runSetSchema, setChangeSchema } from './set'
import { sparkAnswerSchema, sparkRequestSchema } from './spark'
import {
  checkedRevisionSchema,
  historySchema,
  newRevisionSchema,
  newRevisionsSchema,
  newTableSchema,
  revisionSchema,
  tableChangeSchema,
  tableInfoSchema,
} from './table'
import { diagnosisSchema, openCaseSchema, trainerBenchSchema, trainingSchema, workshopSchema } from './trainer'

const bench = (path: string, gate: readonly DangerKind[], summary: string, more: More = {}): Call =>
  post(path, ['somebody else drives', ...gate], summary, { answer: benchStateSchema, problems: [409], ...more })

const STREAM = `Readings come at 50 Hz over a WebSocket at /jobs/{job}/bench/stream, each message a BenchMessage: hello once; sample,
with left when readings were left out for a slow watcher; news; controls; refused. A client says BenchWish: drive takes the wheel, and
only who has it sets controls and limits, runs scripts, records and stops.`

const CALLS_AS_LISTED: readonly Call[] = [
  get('/health', 'Whether the server is up', { answer: healthSchema }),
  get('/openapi.json', 'This document', { answer: object() }),

  get('/jobs', 'All jobs, newest first, archived ones last', { answer: list(jobSchema) }),
  make('/jobs', ['lean target'], 'Make a job; only the title is required', {
    body: newJobSchema,
    answer: jobSchema,
    problems: [400],
  }),
  get('/jobs/{job}', 'One job', { answer: jobSchema }),
  patch(
    '/jobs/{job}',
    ['lean target', 'limit loosened'],
    'Change what is given and leave the rest; archived true puts it in the archive',
    {
      body: jobChangeSchema,
      answer: jobSchema,
      problems: [400],
    },
  ),
  del('/jobs/{job}', ['kept change'], 'Delete a job with all it holds', {
    query: {
      'override?': 'why it is not restored first, where its controller holds a kept change or a bench is connected',
    },
    problems: [409],
  }),
  get('/jobs/{job}/archive', 'The whole job as one zip of job.json (docs/job.schema.json) and a CSV per run', {
    answer: 'application/zip',
  }),
  make('/archives', ['table values', ...TABLE_STEPS, 'lean target'], 'Make a job from an archive', {
    form: object({ file: file().required(), ...archiveFormSchema.fields }),
    answer: jobSchema,
    problems: [400, 409, 413, 422],
  }),

  get('/jobs/{job}/runs', 'Runs in the order in which they came', { answer: list(runSchema) }),
  make('/jobs/{job}/runs', 'records', 'Add a run from a log (CSV); nothing is stored when it cannot be read', {
    description: 'An optional header X-Import-Id names the import; GET /imports/{import} then tells how far it is.',
    form: object({ file: file().required(), ...uploadSchema.fields }),
    answer: runSchema,
    problems: [400, 409, 413, 422],
  }),
  get('/imports/{import}', 'Share of an import that is read, 0 to 1; null when no such import is under way', {
    answer: closed({ share: number().nullable().defined() }),
  }),
  get('/mappings', 'Mappings chosen before, by header signature', {
    answer: object().meta({ json: { type: 'object', additionalProperties: { $ref: '#/components/schemas/Mapping' } } }),
  }),
  get('/jobs/{job}/runs/{run}', 'One run', { answer: runSchema }),
  patch('/jobs/{job}/runs', ['made on a younger state'], 'Change several runs at once: all of them, or none', {
    body: runsChangeSchema,
    answer: list(runSchema),
    problems: [400],
  }),
  patch(
    '/jobs/{job}/runs/{run}',
    ['made on a younger state'],
    'Change what is said of a run, place it, leave it out, or take it out',
    {
      description: 'Another gauge scale rescales its AFR columns. A reason stands beside what is left out.',
      body: runChangeSchema,
      answer: runSchema,
      problems: [400],
    },
  ),
  get(
    '/jobs/{job}/runs/{run}/columns',
    'Several columns in one answer, one after another in the order asked for, each as under channels',
    { query: { channels: 'apart by commas' }, answer: 'application/octet-stream', problems: [400] },
  ),
  post(
    '/jobs/{job}/made-on',
    'records',
    'Say on which state of a table all runs were made that came before it; 409 of change and next-run asks for it',
    { body: madeOnAnswerSchema, answer: list(runSchema), problems: [400] },
  ),
  get('/jobs/{job}/taken-out', 'Runs that were taken out; PATCH one with removed false puts it back', {
    answer: list(runSchema),
  }),
  get('/jobs/{job}/doubts', 'What of the runs that make the field is not to be believed before it is cleared', {
    answer: list(doubtSchema),
  }),
  post('/jobs/{job}/read-as', 'records', 'Say how the columns of some runs are read; null as they were logged', {
    body: readAsRequestSchema,
    answer: list(runSchema),
    problems: [400],
  }),
  post(
    '/jobs/{job}/columns',
    'asks',
    'Columns of several runs in one answer, run after run as under columns of one run',
    {
      description: 'At most 67 million values at a time.',
      body: columnsRequestSchema,
      answer: 'application/octet-stream',
      problems: [400, 413],
    },
  ),
  get('/jobs/{job}/runs/{run}/channels/{channel}', 'One column, little-endian float32, NaN where there is no reading', {
    answer: 'application/octet-stream',
  }),
  make('/jobs/{job}/hand-readings', 'records', 'Readings taken by hand become a run of their own', {
    body: handReadingsSchema,
    answer: runSchema,
    problems: [400],
  }),

  get('/sets', 'Sets of runs of all jobs, for comparing machines', { answer: list(runSetSchema) }),
  get('/jobs/{job}/sets', 'Sets of runs of a job, oldest first; new runs go to the last', {
    answer: list(runSetSchema),
  }),
  make('/jobs/{job}/sets', 'records', 'Make a set; only the name is required', {
    body: newSetSchema,
    answer: runSetSchema,
    problems: [400],
  }),
  get('/jobs/{job}/sets/{set}', 'One set', { answer: runSetSchema }),
  patch('/jobs/{job}/sets/{set}', 'records', 'Change what is given and leave the rest', {
    body: setChangeSchema,
    answer: runSetSchema,
    problems: [400],
  }),
  del('/jobs/{job}/sets/{set}', 'records', 'Delete a set that has no runs', { problems: [409] }),
  get(
    '/jobs/{job}/plan',
    'The run plan of the choice of the job (PATCH the job with plan to choose), what its runs have ticked off, and what would help most next',
    { answer: runPlanSchema },
  ),
  get(
    '/jobs/{job}/rechecks',
    'What has to be measured again because spark or mixture moved since, without the rest of the plan',
    {
      answer: list(recheckSchema),
    },
  ),
  post('/jobs/{job}/compare', 'asks', 'One set against another at a throttle stop, or against several stock machines', {
    description: 'What was not measured alike is refused (422 with refused[]) until it is named in accept.',
    body: compareRequestSchema,
    answer: comparedSchema,
    problems: [400, 422],
  }),

  post('/jobs/{job}/field', 'asks', 'The mixture field of some runs', {
    body: fieldRequestSchema,
    answer: fieldSchema,
    problems: [400, 422],
  }),
  post('/jobs/{job}/change', 'asks', 'Suggested change of a fuel table, by cell, with what decided it', {
    description: '409 names the revisions where it cannot be told on which of them the runs were made; see made-on.',
    body: changeRequestSchema,
    answer: changeSchema,
    problems: [400, 409, 422],
  }),
  post(
    '/jobs/{job}/loop-step',
    'asks',
    'The newest pass of measuring and correcting: how flat it is, and what it asks of each table',
    {
      body: loopRequestSchema,
      answer: loopStepSchema,
      problems: [400],
    },
  ),
  post('/jobs/{job}/spark', 'asks', 'Advance and mixture of best torque, by stop and speed', {
    body: sparkRequestSchema,
    answer: sparkAnswerSchema,
    problems: [400],
  }),
  post(
    '/jobs/{job}/jetting',
    'asks',
    'What carburettors were read to do with each fitting, and what of the box to fit next',
    {
      body: jettingRequestSchema,
      answer: jettingAnswerSchema,
      problems: [400, 422],
    },
  ),
  post('/jobs/{job}/next-run', 'asks', 'The run that takes most doubt away per minute, or that it is enough', {
    body: nextRunRequestSchema,
    answer: nextRunSchema,
    problems: [400, 422],
  }),
  post(
    '/jobs/{job}/response',
    'asks',
    'How a machine answers the hand: roll-ons, loop exits, overruns, grip to plate',
    {
      body: responseRequestSchema,
      answer: responseSchema,
      problems: [400],
    },
  ),
  post(
    '/jobs/{job}/plate',
    'asks',
    'A plate table of a shape, the torque it makes over the grip, and what speaks against it',
    {
      body: plateRequestSchema,
      answer: plateSchema,
      problems: [400, 422],
    },
  ),
  post('/air', 'asks', 'What a weather makes of the air, and the factor of every correction standard', {
    body: weatherSchema,
    answer: airSchema,
    problems: [400],
  }),

  post('/tables/read', 'asks', 'Read a table from a CSV, JSON or XLSX file without storing it', {
    form: object({ file: file().required(), ...tableSaidSchema.fields }),
    answer: tableSchema,
    problems: [400, 413, 422],
  }),
  get('/jobs/{job}/tables', 'Tables with their revisions', { answer: list(tableInfoSchema) }),
  make('/jobs/{job}/tables', ['table values'], 'Add a table as its first revision', {
    body: newTableSchema,
    answer: tableInfoSchema,
    problems: [400, 422],
  }),
  get(
    '/jobs/{job}/tables/histories',
    'States of the tables that were in force at a time or came after it; oldest first',
    {
      query: { since: 'a time as in ISO 8601' },
      answer: list(historySchema),
      problems: [400],
    },
  ),
  get('/jobs/{job}/tables/{table}', 'One table with its revisions', { answer: tableInfoSchema }),
  patch('/jobs/{job}/tables/{table}', 'records', 'Rename a table, take it out, or put it back', {
    body: tableChangeSchema,
    answer: tableInfoSchema,
    problems: [400],
  }),
  make(
    '/jobs/{job}/tables/{table}/revisions',
    TABLE_STEPS,
    'Save a revision; 409 when another was saved after its parent, or a cell moves far from what was last measured and nobody says why',
    { body: newRevisionSchema, answer: tableInfoSchema, problems: [400, 409, 422] },
  ),
  make(
    '/jobs/{job}/revisions',
    TABLE_STEPS,
    'Save a revision of each of several tables as one act: all of them, or none',
    {
      body: newRevisionsSchema,
      answer: list(tableInfoSchema),
      problems: [400, 409, 422],
    },
  ),
  post(
    '/jobs/{job}/tables/{table}/revisions/check',
    'asks',
    'Ask whether a revision would hold a step too large to be taken unasked; the body is that of the revision, nothing is stored',
    { body: newRevisionSchema, answer: checkedRevisionSchema, problems: [400, 409, 422] },
  ),
  get(
    '/jobs/{job}/tables/{table}/revisions/{revision}',
    'A revision by its number; with .csv, .json (docs/table.schema.json) or .xlsx behind it, its export',
    { answer: revisionSchema },
  ),

  get('/bench/machines', 'Machines that the simulated rig can put on its drum', { answer: list(benchMachineSchema) }),
  get('/jobs/{job}/bench', 'The bench connected to a job; null when there is none', {
    description: STREAM,
    answer: benchStateSchema.nullable(),
  }),
  put(
    '/jobs/{job}/bench',
    ['somebody else drives', 'kept change'],
    'Connect a rig to the job; one that was connected is let go, its run kept',
    {
      body: benchSchema,
      answer: benchStateSchema,
      problems: [400, 409],
    },
  ),
  del('/jobs/{job}/bench', ['somebody else drives'], 'Let the bench go; a run under way is kept'),
  patch(
    '/jobs/{job}/bench/faults',
    ['somebody else drives'],
    'Give a simulated rig faults, so that recovery can be learned',
    {
      body: benchFaultsSchema,
      answer: benchFaultsSchema,
      problems: [400, 409],
    },
  ),
  ...CALIBRATION_STEPS.map((step) =>
    bench(
      `/jobs/{job}/bench/calibrate/${step}`,
      [],
      {
        closed: 'Take what the throttle sensor reads now as the plate shut',
        open: 'Take what the throttle sensor reads now as the plate wide open',
        'free-air': 'Take what the wideband reads now as free air',
      }[step],
    ),
  ),
  bench(
    '/jobs/{job}/bench/tables/{table}',
    ['engine running', ...TABLE_STEPS],
    'Write a table to the controller, volatile until it is kept; the first contents are saved in the job before',
    { body: benchWriteSchema, problems: [400, 409] },
  ),
  bench('/jobs/{job}/bench/keep', ['engine running'], 'Make what was written permanent'),
  bench(
    '/jobs/{job}/bench/restore',
    ['engine running', ...TABLE_STEPS],
    'Bring back what was there before the first write, permanently; a large step wants a reason, as any',
    { body: reasonedSchema, problems: [400, 409] },
  ),
  bench(
    '/jobs/{job}/bench/recover',
    ['engine running'],
    'Make a controller readable again after a write that was cut off',
  ),
  bench('/jobs/{job}/bench/power-cycle', [], 'Cut power and give it back; what was not kept is lost'),

  ...handlingCalls,

  get('/trainer/cases', 'Cases to learn from, as far as they may be told before they are finished', {
    answer: list(openCaseSchema),
  }),
  make('/trainer/cases/{case}', 'records', 'Take a case; makes a job of it', { answer: jobSchema }),
  get('/jobs/{job}/training', 'How far a case has come; null when the job is none', {
    answer: trainingSchema.nullable(),
  }),
  put(
    '/jobs/{job}/training/bench',
    ['somebody else drives'],
    'Connect the simulated rig with the machine of the case',
    {
      body: trainerBenchSchema,
      answer: benchStateSchema,
      problems: [400, 409],
    },
  ),
  post(
    '/jobs/{job}/training/acts',
    ['engine running', 'somebody else drives'],
    'Do something to the machine with tools; takes its time',
    {
      body: workshopSchema,
      answer: trainingSchema,
      problems: [400, 409],
    },
  ),
  post(
    '/jobs/{job}/training/finish',
    'records',
    'Say what was wrong; the score and what an expert would have looked at come back',
    {
      body: diagnosisSchema,
      answer: trainingSchema,
      problems: [400, 409],
    },
  ),
]

/** A job that was handed over answers every write with 409, and so does the gate. */
const mayConflict = ({ method, path, gate }: Call): boolean =>
  (method !== 'get' && path.startsWith('/jobs/{job}')) || typeof gate !== 'string'

/** Every call of the HTTP interface, under /api/v1. The OpenAPI document is written from it, and answers are checked by it. */
export const CALLS: readonly Call[] = CALLS_AS_LISTED.map((one) =>
  mayConflict(one) ? { ...one, problems: [...new Set([...one.problems, 409])] } : one,
)

/**
 * Statuses of all problems that a call may answer with: its own; a page of another site; a name in its path or query that is not
 * there; a body of another kind. An address that does not have the method asked for answers 405.
 */
export function problemsOf({ path, problems, body, form }: Call): number[] {
  const all = [400, 403, ...problems, ...(path.includes('{') ? [404] : []), ...(body || form ? [415] : [])]
  return [...new Set(all)].sort((a, b) => a - b)
}

/** Whether a path under /api/v1 is that of a call. */
function isAt({ path }: Call, parts: readonly string[]): boolean {
  const own = path.split('/')
  return (
    own.length === parts.length &&
    own.every((part, k) => part === parts[k] || (part.startsWith('{') && parts[k] !== ''))
  )
}

/**
 * The calls of an address, whatever their methods; those that name more of it come first.
 *
 * @param path under /api/v1
 */
export function callsAt(path: string): Call[] {
  const parts = path.split('/')
  const named = ({ path: own }: Call): number => own.split('/').filter((part) => !part.startsWith('{')).length
  const all = CALLS.filter((one) => isAt(one, parts))
  const most = Math.max(0, ...all.map(named))
  return all.filter((one) => named(one) === most)
}

/** The call that a request is, by its method and its path under /api/v1; undefined where there is none. */
export function callOf(method: string, path: string): Call | undefined {
  const parts = path.split('/')
  return CALLS.find((one) => one.method === method.toLowerCase() && isAt(one, parts))
}

/** Components that are pointed at by name alone. */
export const NAMED_SCHEMAS = [mappingSchema, tableInputSchema] as const

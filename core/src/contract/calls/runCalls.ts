import { doubtSchema } from '../doubt'
import { closed } from '../fields'
import {
  columnsRequestSchema,
  handReadingsSchema,
  madeOnAnswerSchema,
  readAsRequestSchema,
  runChangeSchema,
  addedSchema,
  runSchema,
  knownChannelSchema,
  runsChangeSchema,
  uploadSchema,
} from '../run'
import { pyramidSchema, stretchChangeSchema, stretchSchema } from '../stretch'
import { newSetSchema, runSetSchema, setChangeSchema } from '../set'
import { newPassSchema, passChangeSchema, passesAddedSchema, passSchema } from '../strip'
import { del, file, get, list, make, patch, post } from './call'
import { number, object } from 'yup'

/** Runs, how they came in, and the sets they are in. */
export const runCalls = {
  runs: get('/jobs/{job}/runs', 'Runs in the order in which they came', { answer: list(runSchema) }),
  addRun: make('/jobs/{job}/runs', 'records', 'Add a run from a log; nothing is stored when it cannot be read', {
    description:
      'CSV and kin, XLSX, or gzip or zip of them, told apart by content. A file with one recording answers its run; one with several, or a zip, answers `{runs, refused}`. An optional header X-Import-Id names the import; GET /imports/{import} then tells how far it is.',
    form: object({ file: file().required(), ...uploadSchema.fields }),
    madeAt: '/jobs/{job}/runs/{id}',
    answer: addedSchema,
    problems: [409, 413, 422],
  }),
  importShare: get(
    '/imports/{import}',
    'Share of an import that is read, 0 to 1; null when no such import is under way',
    {
      answer: closed({ share: number().nullable().defined() }),
    },
  ),
  mappings: get('/mappings', 'Mappings chosen before, by header signature', {
    answer: object().meta({ json: { type: 'object', additionalProperties: { $ref: '#/components/schemas/Mapping' } } }),
  }),
  forgetMapping: del('/mappings/{signature}', 'records', 'Forget a mapping that was chosen for a header'),
  channels: get('/channels', 'Channels that a run can have, with the units that a column may come in', {
    answer: list(knownChannelSchema),
  }),
  run: get('/jobs/{job}/runs/{run}', 'One run', { answer: runSchema }),
  stretches: get(
    '/jobs/{job}/runs/{run}/stretches',
    'Sweeps, holds, roll-ons, chops, overruns and idling inside a run; the id of each is taken wherever a run is asked for',
    { answer: list(stretchSchema) },
  ),
  changeStretches: patch('/jobs/{job}/runs/{run}/stretches', 'records', 'Split, join or name stretches by hand', {
    body: stretchChangeSchema,
    answer: list(stretchSchema),
  }),
  pyramid: get(
    '/jobs/{job}/runs/{run}/pyramid',
    'The least and the most of a channel over time, in even parts of a span: to draw a long log',
    {
      query: {
        channel: 'channel of the run',
        'from?': 's of the run; its start when left out',
        'to?': 's; its end when left out',
        'points?': 'parts, 1 to 4000; 800 when left out',
      },
      answer: pyramidSchema,
    },
  ),
  changeRuns: patch(
    '/jobs/{job}/runs',
    ['made on a younger state'],
    'Change several runs at once: all of them, or none',
    {
      body: runsChangeSchema,
      answer: list(runSchema),
    },
  ),
  changeRun: patch(
    '/jobs/{job}/runs/{run}',
    ['made on a younger state'],
    'Change what is said of a run, place it, leave it out, or take it out',
    {
      description: 'Another gauge scale rescales its AFR columns. A reason stands beside what is left out.',
      body: runChangeSchema,
      answer: runSchema,
    },
  ),
  columnsOfRun: get(
    '/jobs/{job}/runs/{run}/columns',
    'Several columns in one answer, one after another in the order asked for, each as under channels',
    { query: { channels: 'apart by commas' }, answer: 'application/octet-stream' },
  ),
  sayMadeOn: post(
    '/jobs/{job}/made-on',
    'records',
    'Say on which state of a table all runs were made that came before it; 409 of change and next-run asks for it',
    { body: madeOnAnswerSchema, answer: list(runSchema) },
  ),
  takenOut: get('/jobs/{job}/taken-out', 'Runs that were taken out; PATCH one with removed false puts it back', {
    answer: list(runSchema),
  }),
  doubts: get('/jobs/{job}/doubts', 'What of the runs that make the field is not to be believed before it is cleared', {
    answer: list(doubtSchema),
  }),
  readAs: post(
    '/jobs/{job}/read-as',
    'records',
    'Say how the columns of some runs are read; null as they were logged',
    {
      body: readAsRequestSchema,
      answer: list(runSchema),
    },
  ),
  columns: post(
    '/jobs/{job}/columns',
    'asks',
    'Columns of several runs in one answer, run after run as under columns of one run',
    {
      description: 'At most 67 million values at a time.',
      body: columnsRequestSchema,
      answer: 'application/octet-stream',
      problems: [413],
    },
  ),
  channel: get(
    '/jobs/{job}/runs/{run}/channels/{channel}',
    'One column, little-endian float32, NaN where there is no reading',
    {
      answer: 'application/octet-stream',
    },
  ),
  addHandReadings: make('/jobs/{job}/hand-readings', 'records', 'Readings taken by hand become a run of their own', {
    body: handReadingsSchema,
    madeAt: '/jobs/{job}/runs/{id}',
    answer: runSchema,
  }),
  allSets: get('/sets', 'Sets of runs of all jobs, for comparing machines', { answer: list(runSetSchema) }),
  sets: get('/jobs/{job}/sets', 'Sets of runs of a job, oldest first; new runs go to the last', {
    answer: list(runSetSchema),
  }),
  addSet: make('/jobs/{job}/sets', 'records', 'Make a set; only the name is required', {
    body: newSetSchema,
    madeAt: '/jobs/{job}/sets/{id}',
    answer: runSetSchema,
  }),
  set: get('/jobs/{job}/sets/{set}', 'One set', { answer: runSetSchema }),
  changeSet: patch('/jobs/{job}/sets/{set}', 'records', 'Change what is given and leave the rest', {
    body: setChangeSchema,
    answer: runSetSchema,
  }),
  deleteSet: del('/jobs/{job}/sets/{set}', 'records', 'Delete a set that has no runs', { problems: [409] }),
  passes: get('/jobs/{job}/passes', 'Passes at the strip, in the order in which they came', {
    answer: list(passSchema),
  }),
  addPass: make('/jobs/{job}/passes', 'records', 'Find the passes of a run, or note a slip as it was handed out', {
    description:
      'A log with one pass, and a slip, answer the pass; a log with several `{passes}`. Passes of a run that are kept already are answered as they are. Distances count from where it stood, as between beams; the clock starts behind the rollout; a speed is the mean over the trap before its mark.',
    body: newPassSchema,
    answer: passesAddedSchema,
    problems: [409, 422],
  }),
  changePass: patch('/jobs/{job}/passes/{pass}', 'records', 'Change what was noted of a pass', {
    body: passChangeSchema,
    answer: passSchema,
    problems: [409],
  }),
  deletePass: del('/jobs/{job}/passes/{pass}', 'records', 'Take a pass back', { problems: [409] }),
}

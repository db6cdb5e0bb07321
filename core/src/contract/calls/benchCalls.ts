import { TABLE_STEPS, type DangerKind } from '../../refusal/dangers'
import {
  benchFaultsSchema,
  benchMachineSchema,
  benchStateSchema,
  benchWaySchema,
  benchWriteSchema,
  reasonedSchema,
} from '../bench'
import { benchSchema } from '../benchChoice'
import { jobSchema } from '../job'
import { diagnosisSchema, openCaseSchema, trainerBenchSchema, trainingSchema, workshopSchema } from '../trainer'
import { del, get, list, make, patch, post, put, type AnySchema } from './call'

/** An act on the bench: only who drives does it while somebody drives. */
const bench = <const Path extends string, B extends AnySchema = never>(
  path: Path,
  gate: readonly DangerKind[],
  summary: string,
  more: { body?: B; problems?: number[] } = {},
) => post(path, ['somebody else drives', ...gate], summary, { answer: benchStateSchema, problems: [409], ...more })

const STREAM = `Readings come at 50 Hz over a WebSocket at /jobs/{job}/bench/stream, each message a BenchMessage: hello once; sample,
with left when readings were left out for a slow watcher; news; controls; refused. A client says BenchWish: drive takes the wheel, and
only who has it sets controls and limits, runs scripts, records and stops.`

/** The bench, and cases of the trainer. */
export const benchCalls = {
  benchMachines: get('/bench/machines', 'Machines that the simulated rig can put on its drum', {
    answer: list(benchMachineSchema),
  }),
  bench: get('/jobs/{job}/bench', 'The bench connected to a job; null when there is none', {
    description: STREAM,
    answer: benchStateSchema.nullable(),
  }),
  connectBench: put(
    '/jobs/{job}/bench',
    ['somebody else drives', 'kept change'],
    'Connect a rig to the job; one that was connected is let go, its run kept',
    {
      body: benchSchema,
      answer: benchStateSchema,
      problems: [409],
    },
  ),
  disconnectBench: del('/jobs/{job}/bench', ['somebody else drives'], 'Let the bench go; a run under way is kept'),
  benchFaults: patch(
    '/jobs/{job}/bench/faults',
    ['somebody else drives'],
    'Give a simulated rig faults, so that recovery can be learned',
    {
      body: benchFaultsSchema,
      answer: benchFaultsSchema,
      problems: [409],
    },
  ),
  calibrateBench: bench(
    '/jobs/{job}/bench/calibrate/{step}',
    [],
    'Take what a sensor reads now: of the throttle for the plate shut (closed) or wide open (open), of the wideband for free air (free-air)',
  ),
  writeBench: bench(
    '/jobs/{job}/bench/tables/{table}',
    ['engine running', ...TABLE_STEPS],
    'Write a table to the controller, volatile until it is kept; the first contents are saved in the job before',
    { body: benchWriteSchema, problems: [409] },
  ),
  writeWay: bench(
    '/jobs/{job}/bench/ways/{kind}',
    ['engine running', 'fuel step'],
    'Set one of the settings beside the tables of the controller (coarse, bands, strips, global, pressure), volatile until it is kept',
    { body: benchWaySchema, problems: [409] },
  ),
  keepBench: bench('/jobs/{job}/bench/keep', ['engine running'], 'Make what was written permanent'),
  restoreBench: bench(
    '/jobs/{job}/bench/restore',
    ['engine running', ...TABLE_STEPS],
    'Bring back what was there before the first write, permanently; a large step wants a reason, as any',
    { body: reasonedSchema, problems: [409] },
  ),
  recoverBench: bench(
    '/jobs/{job}/bench/recover',
    ['engine running'],
    'Make a controller readable again after a write that was cut off',
  ),
  cutPower: bench('/jobs/{job}/bench/power-cycle', [], 'Cut power and give it back; what was not kept is lost'),
  trainerCases: get('/trainer/cases', 'Cases to learn from, as far as they may be told before they are finished', {
    answer: list(openCaseSchema),
  }),
  takeCase: make('/trainer/cases/{case}', 'records', 'Take a case; makes a job of it', { answer: jobSchema }),
  training: get('/jobs/{job}/training', 'How far a case has come; null when the job is none', {
    answer: trainingSchema.nullable(),
  }),
  connectCase: put(
    '/jobs/{job}/training/bench',
    ['somebody else drives'],
    'Connect the simulated rig with the machine of the case',
    {
      body: trainerBenchSchema,
      answer: benchStateSchema,
      problems: [409],
    },
  ),
  workshopAct: post(
    '/jobs/{job}/training/acts',
    ['engine running', 'somebody else drives'],
    'Do something to the machine with tools; takes its time',
    {
      body: workshopSchema,
      answer: trainingSchema,
      problems: [409],
    },
  ),
  finishCase: post(
    '/jobs/{job}/training/finish',
    'records',
    'Say what was wrong; the score and what an expert would have looked at come back',
    {
      body: diagnosisSchema,
      answer: trainingSchema,
      problems: [409],
    },
  ),
}

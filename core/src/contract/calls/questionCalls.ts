import { besideSchema } from '../beside'
import { airSchema, weatherSchema } from '../air'
import { compareRequestSchema, comparedSchema } from '../compare'
import { complaintFindingSchema } from '../complaint'
import {
  changeRequestSchema,
  changeSchema,
  fieldRequestSchema,
  fieldSchema,
  nextRunRequestSchema,
  nextRunSchema,
} from '../field'
import { idleAnswerSchema, idleRequestSchema, partsAnswerSchema, partsRequestSchema } from '../parts'
import { probeCheckSchema } from '../jobLines'
import { loopRequestSchema, loopStepSchema } from '../loop'
import { recheckSchema, runPlanSchema } from '../plan'
import { flatnessSchema } from '../report'
import { plateRequestSchema, plateSchema, responseRequestSchema, responseSchema } from '../response'
import {
  mixtureSweepAnswerSchema,
  mixtureSweepRequestSchema,
  sparkAnswerSchema,
  sparkChangeAnswerSchema,
  sparkChangeRequestSchema,
  sparkRequestSchema,
} from '../spark'
import { verdictSchema } from '../verdict'
import { roadPowerRequestSchema, roadPowerSchema } from '../road'
import { stripDaySchema } from '../strip'
import { answeredRequestSchema, answeredSchema, waysRequestSchema, wayToldSchema } from '../ways'
import { get, list, post } from './call'

/** What is worked out from runs and tables. */
export const questionCalls = {
  plan: get(
    '/jobs/{job}/plan',
    'The run plan of the choice of the job (PATCH the job with plan to choose), what its runs have ticked off, and what would help most next',
    { answer: runPlanSchema },
  ),
  rechecks: get(
    '/jobs/{job}/rechecks',
    'What has to be measured again because spark or mixture moved since, without the rest of the plan',
    {
      answer: list(recheckSchema),
    },
  ),
  compare: post(
    '/jobs/{job}/compare',
    'asks',
    'One set against another at a throttle stop, or against several stock machines',
    {
      description: 'What was not measured alike is refused (422 with refused[]) until it is named in accept.',
      body: compareRequestSchema,
      answer: comparedSchema,
      problems: [422],
    },
  ),
  field: post('/jobs/{job}/field', 'asks', 'The mixture field of some runs', {
    body: fieldRequestSchema,
    answer: fieldSchema,
    problems: [422],
  }),
  beside: post(
    '/jobs/{job}/beside',
    'asks',
    'What was read beside the mixture at each cell: how steady it is, exhaust gas, heads and duty against their limits',
    { body: fieldRequestSchema, answer: besideSchema, problems: [422] },
  ),
  flatness: post('/jobs/{job}/flatness', 'asks', 'How far runs are off target', {
    body: fieldRequestSchema,
    answer: flatnessSchema,
    problems: [422],
  }),
  change: post('/jobs/{job}/change', 'asks', 'Suggested change of a fuel table, by cell, with what decided it', {
    description: '409 names the revisions where it cannot be told on which of them the runs were made; see made-on.',
    body: changeRequestSchema,
    answer: changeSchema,
    problems: [409, 422],
  }),
  answered: post(
    '/jobs/{job}/ways/answered',
    'asks',
    'Whether the mixture answered to what a table or another way was changed by, and whether it is as steady as before',
    {
      description:
        'Runs of the two newest revisions of the table that runs were made on, on the same hardware, cell by cell where both read.',
      body: answeredRequestSchema,
      answer: answeredSchema,
      problems: [422],
    },
  ),
  ways: post('/jobs/{job}/ways', 'asks', 'What each way to put a change in would leave wrong, and its numbers', {
    description:
      'Answers in the order asked. What is left is (1 + wanted) / (1 + given) - 1, positive lean, taken at sixteen places a cell; each way is chosen to leave the least root of the mean of m r^2, m = 1 rich, 2 lean, 4 lean from 70 % load. Bands, a global trim and pressure leave no cell from 70 % load more than 2 % lean.',
    body: waysRequestSchema,
    answer: list(wayToldSchema),
    problems: [409, 422],
  }),
  roadPower: post(
    '/jobs/{job}/road-power',
    'asks',
    'Torque from acceleration on the road, for lack of a drum, with its interval',
    { body: roadPowerRequestSchema, answer: roadPowerSchema, problems: [422] },
  ),
  strip: get('/jobs/{job}/strip', 'What passes at the strip tell, state against state, and what to try next', {
    answer: stripDaySchema,
  }),
  loopStep: post(
    '/jobs/{job}/loop-step',
    'asks',
    'The newest pass of measuring and correcting: how flat it is, and what it asks of each table',
    {
      body: loopRequestSchema,
      answer: loopStepSchema,
    },
  ),
  sparkFit: post(
    '/jobs/{job}/spark-fit',
    'asks',
    'Advance of best torque by stop and speed, what limits it, and what the last change of it did',
    { body: sparkRequestSchema, answer: sparkAnswerSchema, problems: [422] },
  ),
  sparkChange: post(
    '/jobs/{job}/spark-change',
    'asks',
    'What a spark table is to be changed to, by one surface of best advance and of the knock line through the points',
    { body: sparkChangeRequestSchema, answer: sparkChangeAnswerSchema, problems: [422] },
  ),
  mixtureSweep: post('/jobs/{job}/mixture-sweep', 'asks', 'Mixture of best torque, by stop and speed', {
    body: mixtureSweepRequestSchema,
    answer: mixtureSweepAnswerSchema,
    problems: [422],
  }),
  parts: post(
    '/jobs/{job}/parts',
    'asks',
    'What carburettors were read to do with each fitting, and what of the box to fit next',
    {
      body: partsRequestSchema,
      answer: partsAnswerSchema,
      problems: [422],
    },
  ),
  idle: post(
    '/jobs/{job}/idle',
    'asks',
    'Where an idle screw should stand, by speed, vacuum or mixture over its turns',
    {
      body: idleRequestSchema,
      answer: idleAnswerSchema,
      problems: [422],
    },
  ),
  nextRun: post('/jobs/{job}/next-run', 'asks', 'The run that takes most doubt away per minute, or that it is enough', {
    body: nextRunRequestSchema,
    answer: nextRunSchema,
    problems: [422],
  }),
  response: post(
    '/jobs/{job}/response',
    'asks',
    'How a machine answers the hand: roll-ons, loop exits, overruns, grip to plate',
    {
      body: responseRequestSchema,
      answer: responseSchema,
    },
  ),
  plate: post(
    '/jobs/{job}/plate',
    'asks',
    'A plate table of a shape, the torque it makes over the grip, and what speaks against it',
    {
      body: plateRequestSchema,
      answer: plateSchema,
      problems: [422],
    },
  ),
  air: post('/air', 'asks', 'What a weather makes of the air, and the factor of every correction standard', {
    body: weatherSchema,
    answer: airSchema,
  }),
  probes: get('/jobs/{job}/probes', 'Probes that sit in one gas, checked against each other over the runs of the job', {
    answer: list(probeCheckSchema),
  }),
  complaintFindings: get(
    '/jobs/{job}/complaint-findings',
    'What was measured where each complaint is pinned, then and now',
    {
      answer: list(complaintFindingSchema),
    },
  ),
  verdict: get('/jobs/{job}/verdict', 'Whether it needs a retune, how deep, or is good enough; with reasons', {
    answer: verdictSchema,
  }),
}

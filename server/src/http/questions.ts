import {
  answeredAnswer,
  answeredQuestion,
  besideAnswer,
  besideQuestion,
  inputRefused,
  airDensity,
  answerChange,
  changeAnswer,
  changeQuestion,
  CORRECTIONS,
  densityAltitude,
  dryPressure,
  fieldAnswer,
  flatnessAnswer,
  idleAnswer,
  jettingQuestion,
  loopAnswer,
  loopQuestion,
  needsState,
  planOf,
  plateAnswer,
  plateQuestion,
  refused,
  responseAnswer,
  responseQuestion,
  setsFuel,
  setsSpark,
  sparkChangeAnswer,
  sparkQuestion,
  vapourPressure,
  waysAnswer,
  waysQuestion,
  type Job,
  type JobGround,
} from '@yuzumix/core'
import { ask, fieldFor, groundOf, loaderOf, type Workshop } from '../acts/questions/ask'
import { checkProbes } from '../acts/handling/checkProbes'
import { compareSets } from '../acts/questions/compareSets'
import { nextOfPlan, nextRunFor } from '../acts/questions/nextRunFor'
import { roadPowerOf } from '../acts/questions/roadPowerOf'
import { stripOf } from '../acts/questions/stripOf'
import { rechecksFor } from '../acts/questions/rechecksFor'
import { findingsOfComplaints } from '../acts/report/complaintFindings'
import { verdictFor } from '../acts/handling/verdictFor'
import { findRevision } from '../store/revisions'
import type { Asked, Handlers } from './handlers'
import { notFound } from './problem'

/** What is worked out from runs and tables. */
export function questionHandlers(context: Workshop) {
  const { store } = context
  const loader = loaderOf(store)
  const groundFor = async ({ job }: { job: () => Promise<Job> }): Promise<JobGround> => groundOf(store, await job())

  /** The change of one fuel table, from its latest state or from another one. */
  async function change({ job, body, gone }: Asked<'change'>): Promise<object> {
    const { table: id, revision, cylinder, limits, rpm: _rpm, load: _load, loadAxis: _axis, ...asked } = body
    const ground = await groundFor({ job })
    const info = ground.tables.find((one) => one.id === id)
    const state = info && (revision === undefined ? info : await findRevision(store, info.job, id, revision))
    if (!info || !state) throw notFound(info ? 'revision' : 'table')
    if (!setsFuel(info.table))
      throw inputRefused([
        { field: 'table', message: `is a ${info.table.kind} table; only fuel tables can be corrected here` },
      ])
    const table = { ...info, table: state.table }
    const question = await changeQuestion(ground, loader, { ...asked, table, cylinder })
    needsState(question.untold, ground.tables)
    const field = await ask(context, 'field', question.field, gone())
    const told = field.cylinders.map((one) => one.cylinder)
    if (cylinder != null && !told.includes(cylinder))
      throw inputRefused([{ field: 'cylinder', message: `is not in the runs: they tell of ${told.join(', ')}` }])
    return changeAnswer(question, field, answerChange(question, field, limits)!)
  }

  /** Settings tried, with what they come to. */
  const sparkTold = async (asked: Asked<'sparkFit'> | Asked<'sparkChange'> | Asked<'mixtureSweep'>) => {
    const { set, runs, ...rest } = asked.body
    const options = 'options' in rest ? rest.options : undefined
    const question = await sparkQuestion(await groundFor(asked), loader, { set, runs, options })
    return ask(context, 'spark', question, asked.gone())
  }

  /** The change of one spark table from its latest state. */
  async function sparkChange(asked: Asked<'sparkChange'>): Promise<object> {
    const { table: id, limits, options } = asked.body
    const { job, tables } = await groundFor(asked)
    const info = tables.find((one) => one.id === id)
    if (!info) throw notFound('table')
    if (!setsSpark(info.table))
      throw inputRefused([
        { field: 'table', message: `is a ${info.table.kind} table; only spark tables are changed here` },
      ])
    const { bins } = await sparkTold(asked)
    const { nodes, values } = sparkChangeAnswer(info.table, bins, job.spark, { limits, options })
    const { rpm, load } = info.table
    return { rpm, load, values, nodes: nodes.map((row) => row.map(({ arithmetic: _, ...node }) => node)) }
  }

  return {
    change,
    async ways(asked) {
      const ground = await groundFor(asked)
      const question = await waysQuestion(ground, loader, asked.body)
      needsState(question.untold, ground.tables)
      return waysAnswer(await ask(context, 'ways', question, asked.gone()))
    },
    async beside(asked) {
      const question = await besideQuestion(await groundFor(asked), loader, asked.body)
      return besideAnswer(question, await ask(context, 'beside', question, asked.gone()))
    },
    strip: async ({ job, gone }) => stripOf(context, await job(), gone()),
    roadPower: async ({ job, body }) => roadPowerOf(store, await job(), body),
    async answered(asked) {
      const question = await answeredQuestion(await groundFor(asked), loader, asked.body)
      if (!question)
        throw refused(
          'no-field',
          'Nothing can be compared: runs of two revisions of this table are needed, on the same hardware.',
          'table',
        )
      return answeredAnswer(question, await ask(context, 'answered', question, asked.gone()))
    },
    async plan({ job, gone }) {
      const own = await job()
      const ground = await groundOf(store, own)
      return {
        chosen: own.plan !== undefined,
        ...planOf(ground),
        again: await rechecksFor(store, own, ground.runs),
        ...(await nextOfPlan(context, own, ground.runs, gone())),
      }
    },
    async rechecks(asked) {
      const { job, runs } = await groundFor(asked)
      return rechecksFor(store, job, runs)
    },
    compare: async ({ job, body, gone }) => compareSets(context, await job(), body, gone()),
    field: async ({ job, body, gone }) => fieldAnswer(await fieldFor(context, await job(), body, gone())),
    flatness: async ({ job, body, gone }) => flatnessAnswer(await fieldFor(context, await job(), body, gone())),
    nextRun: async ({ job, body, gone }) => nextRunFor(context, await job(), body, gone()),
    async loopStep(asked) {
      const question = await loopQuestion(await groundFor(asked), loader, asked.body)
      return loopAnswer(question, await ask(context, 'loop', question, asked.gone()))
    },
    async sparkFit(asked) {
      const { bins, proof, next } = await sparkTold(asked)
      return { bins, proof, next }
    },
    async mixtureSweep(asked) {
      const { mixtures } = await sparkTold(asked)
      return { mixtures }
    },
    sparkChange,
    parts: async (asked) => ask(context, 'jetting', jettingQuestion(await groundFor(asked), asked.body), asked.gone()),
    async idle({ job, body }) {
      return idleAnswer((await job()).jetting, body)
    },
    response: async (asked) =>
      responseAnswer(
        await ask(context, 'response', responseQuestion(await groundFor(asked), asked.body), asked.gone()),
      ),
    plate: async (asked) =>
      plateAnswer(await ask(context, 'plate', plateQuestion(await groundFor(asked), asked.body), asked.gone())),
    air({ body: weather }) {
      const density = airDensity(weather)
      return {
        vapourKpa: vapourPressure(weather),
        dryKpa: dryPressure(weather),
        density,
        densityAltitudeM: densityAltitude(density),
        corrections: CORRECTIONS.map(({ id, name, reference, factor, outside }) => ({
          id,
          name,
          reference,
          factor: factor(weather),
          outside: outside(weather),
        })),
      }
    },
    probes: async ({ job }) => checkProbes(context, await job()),
    complaintFindings: async ({ job, gone }) => findingsOfComplaints(context, await job(), gone()),
    verdict: async ({ job, gone }) => verdictFor(context, await job(), gone()),
  } satisfies Partial<Handlers>
}

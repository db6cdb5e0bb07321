import {
  Refusal,
  inputRefused,
  checkForm,
  checkMapping,
  checkSetting,
  knownChannels,
  uploadSchema,
} from '@yuzumix/core'
import { doubtsFor } from '../acts/handling/doubtsFor'
import { fieldRunsOf, type Workshop } from '../acts/questions/ask'
import { sayMadeOn } from '../acts/tables/sayMadeOn'
import { addPass, changePass, listPasses, takeBackPass } from '../acts/handling/passes'
import { changeStretches, pyramidOfRun, stretchesOfRun } from '../acts/jobs/stretchesOfRun'
import { changeRunAsked, changeRunsAsked } from '../acts/jobs/changeRun'
import { addHandReadings } from '../intake/addHandReadings'
import { forgetMapping, rememberedMappings } from '../intake/addLog'
import { addLogs } from '../intake/addLogs'
import { countValues, readColumns, type AskedColumns } from '../store/columns'
import { readRunsAs } from '../store/readAs'
import { findRun, listRuns } from '../store/runs'
import { findSet } from '../store/sets'
import type { Exchange, Handlers } from './handlers'
import { notFound } from './problem'
import type { UnderWay } from './underWay'
import { originalName, withFile } from './upload'

/** A part of a form that is JSON; undefined where it was not sent. */
function jsonPart<T>(field: string, text: string | undefined, check: (raw: unknown) => T): T | undefined {
  if (text === undefined) return undefined
  try {
    return check(JSON.parse(text))
  } catch (error) {
    if (error instanceof SyntaxError) throw inputRefused([{ field, message: 'is not JSON' }])
    throw error
  }
}

function readUploadFields(raw: Record<string, string>) {
  const fields = checkForm(uploadSchema, raw)
  return {
    ...fields,
    mapping: jsonPart('mapping', fields.mapping, checkMapping),
    setting: jsonPart('setting', fields.setting, checkSetting),
  }
}

/** Values of columns in one answer: a quarter of a gigabyte. */
const MOST_VALUES = 2 ** 26

export function runHandlers(context: Workshop, underWay: UnderWay) {
  const { store } = context
  async function needsSet(job: string, set: string | undefined): Promise<void> {
    if (set !== undefined && !(await findSet(store, set, job)))
      throw inputRefused([{ field: 'set', message: 'there is no such set in this job' }])
  }
  const addRun: Handlers['addRun'] = (asked) =>
    withFile(asked, store, async (file, texts) => {
      const job = await asked.job()
      const fields = readUploadFields(texts)
      await needsSet(job.id, fields.set)
      const log = { ...fields, path: file.path, name: fields.name ?? originalName(file) }
      const { runs, refused } = await underWay.follow(asked.request, (told) =>
        addLogs(context, job, log, told, asked.gone()),
      )
      return runs.length === 1 && refused.length === 0 ? runs[0]! : { runs, refused }
    })

  /** Columns as bytes, run after run. @throws Refusal, as 404 with what is not there */
  async function sendColumns(
    { at, response }: Exchange & { at: { job: string } },
    asked: AskedColumns[],
    missing: string,
  ): Promise<void> {
    const data = await readColumns(store, at.job, asked)
    if (!data) throw notFound(missing)
    // Values of each run, so that who reads the bytes need not ask for them.
    response.set('X-Values', data.map((one) => one.length / 4).join(','))
    response.type('application/octet-stream').set('Cache-Control', 'no-cache').send(Buffer.concat(data))
  }

  return {
    addRun,
    // Whoever asks may be a moment early or late: that is no error.
    importShare: ({ at }) => ({ share: underWay.share(at.import) }),
    mappings: () => rememberedMappings(store),
    forgetMapping: ({ at }) => forgetMapping(store, at.signature),
    channels: () => knownChannels(),
    runs: async ({ job }) => listRuns(store, (await job()).id),
    run: ({ at }) => findRun(store, at.job, at.run),
    async stretches({ at }) {
      const run = await findRun(store, at.job, at.run)
      return run && stretchesOfRun(store, run)
    },
    async changeStretches({ at, body }) {
      const run = await findRun(store, at.job, at.run)
      return run && changeStretches(store, at.job, run, body)
    },
    async pyramid({ at, query }) {
      const run = await findRun(store, at.job, at.run)
      if (!run) throw notFound('run')
      const told = await pyramidOfRun(store, run, query)
      if (!told) throw notFound('channel')
      return told
    },
    async changeRuns({ job, body }) {
      const runs = await changeRunsAsked(store, (await job()).id, body)
      if (!runs) throw inputRefused([{ field: 'runs', message: 'one of them is not in this job' }])
      return runs
    },
    changeRun: ({ at, body }) => changeRunAsked(store, at.job, at.run, body),
    async sayMadeOn({ at, body: { table, revision } }) {
      const runs = await sayMadeOn(store, at.job, table, revision)
      if (!runs) throw notFound('table')
      return runs
    },
    takenOut: async ({ job }) => listRuns(store, (await job()).id, true),
    async doubts({ job, gone }) {
      const own = await job()
      return doubtsFor(context, own, await fieldRunsOf(context, own), null, gone())
    },
    async readAs({ job, body: { runs, readAs } }) {
      const { id } = await job()
      if (!(await readRunsAs(store, id, runs, readAs ?? null)))
        throw inputRefused([{ field: 'runs', message: 'one of them is not in this job' }])
      return (await listRuns(store, id)).filter((run) => runs.includes(run.id))
    },
    columnsOfRun(asked) {
      const { channels } = asked.query
      if (!channels) throw inputRefused([{ field: 'channels', message: 'name the columns wanted, apart by commas' }])
      const wanted = [{ run: asked.at.run, channels: channels.split(',') }]
      return sendColumns(asked, wanted, 'run, or it has not all of these channels')
    },
    async columns(asked) {
      const { runs } = asked.body
      if ((await countValues(store, asked.at.job, runs)) > MOST_VALUES)
        throw new Refusal('too-much', 'These columns are too large for one answer. Ask for fewer runs at a time.')
      await sendColumns(asked, runs, 'run, or one has not all of these channels')
    },
    channel: (asked) => sendColumns(asked, [{ run: asked.at.run, channels: [asked.at.channel] }], 'channel'),
    async addHandReadings({ job, body }) {
      const own = await job()
      await needsSet(own.id, body.set)
      return addHandReadings(store, own, body)
    },
    passes: async ({ job, gone }) => listPasses(context, await job(), gone()),
    addPass: async ({ job, body, gone }) => addPass(context, await job(), body, gone()),
    changePass: async ({ job, at, body, gone }) => changePass(context, await job(), at.pass, body, gone()),
    deletePass: async ({ job, at }) => takeBackPass(store, (await job()).id, at.pass),
  } satisfies Partial<Handlers>
}

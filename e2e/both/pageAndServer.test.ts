/**
 * Page and server are asked the same questions and give the same answers, to the last digit: the page's own composables on
 * answers of the HTTP interface, beside what that answers itself; for every demo job, and for jobs with a history.
 */
import { spawnSync } from 'node:child_process'
import { cp, mkdtemp, rm } from 'node:fs/promises'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createPinia, setActivePinia } from 'pinia'
import { effectScope, ref, shallowRef, type EffectScope } from 'vue'
import {
  changeAnswer,
  DEFAULT_LIMITS,
  fieldAnswer,
  flatnessAnswer,
  loopAnswer,
  loopQuestion,
  nextRunQuestion,
  planOf,
  responseAnswer,
  type FlatnessAnswer,
  type Job,
  type Report,
  type TableInfo,
  answeredAnswer,
  answeredQuestion,
  besideAnswer,
  besideQuestion,
  waysAnswer,
} from '@yuzumix/core'
import { root, testServer, type TestServer } from '../../server/src/testServer'
import { useHandling } from '@/job/handling'
import { loader } from '@/job/loader'
import { useJob } from '@/job/openJob'
import { useFieldQuestion } from '@/job/useFieldQuestion'
import { useQuestion } from '@/job/useQuestion'
import { useChange } from '@/stages/change/useChange'
import { useJetting } from '@/stages/jetting/useJetting'
import { useResponse } from '@/stages/response/useResponse'
import { useSpark } from '@/stages/spark/useSpark'
import { useWays } from '@/stages/change/ways/useWays'
import { fieldWork } from '@/workers/fieldWork'
import { questionWork } from '@/workers/questionWork'
import { useAnswer } from '@/workers/useAnswer'
import { useField } from '@/workers/useField'

jest.mock('comlink', () => ({ proxy: (call: unknown) => call, transfer: (what: unknown) => what }))
jest.mock('@/workers/connect', () => ({}))
jest.mock('@/api/notify', () => ({
  notifyProblem: (error: Error) => {
    throw error
  },
}))
jest.setTimeout(300_000)

/** A worker of the page, in this thread: what crosses to it is copied, as it would be. */
const inThread =
  <Work extends object>(work: () => Work) =>
  () => {
    const own = work() as Record<string, (...given: unknown[]) => unknown>
    const copied = (one: unknown): unknown => (typeof one === 'function' ? one : structuredClone(one))
    const remote = new Proxy(
      {},
      {
        get:
          (_, name: string) =>
          async (...given: unknown[]) => {
            await Promise.resolve()
            return structuredClone(own[name]!(...given.map(copied)))
          },
      },
    )
    return { remote: remote as never, end: () => undefined }
  }
const questions = inThread(questionWork)
const fields = inThread(fieldWork)

let server: TestServer
let address = ''
let close: () => Promise<void>
const wire = globalThis.fetch

async function ask(path: string, body?: object): Promise<unknown> {
  const answer = await wire(`${address}/api/v1${path}`, {
    method: body ? 'POST' : 'GET',
    ...(body && { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
  })
  return answer.ok ? answer.json() : null
}
/** As it comes over HTTP. */
const told = (value: unknown): unknown => JSON.parse(JSON.stringify(value))
/** requests of the page under way */
let underWay = 0
/** Until the page asks for nothing more, and works at nothing more. */
const busyFor = async (isBusy: () => boolean): Promise<void> => {
  for (let quiet = 0; quiet < 50;) {
    await new Promise((resolve) => setImmediate(resolve))
    quiet = underWay || isBusy() ? 0 : quiet + 1
  }
}

let scope: EffectScope
/** Opens a job as the page does. */
async function openAs(job: Job) {
  setActivePinia(createPinia())
  const open = useJob()
  await open.load(job.id)
  const handling = useHandling()
  await handling.reload(job.id)
  scope = effectScope()
  return { open, handling }
}
afterEach(() => scope?.stop())

beforeAll(async () => {
  server = await testServer()
  const folder = await mkdtemp(join(tmpdir(), 'yuzumix-both-'))
  const made = spawnSync(process.execPath, [join(root, 'server/dist/demo.js')], {
    env: { ...process.env, YUZUMIX_DATA: folder },
  })
  if (made.status !== 0) throw new Error(String(made.stderr))
  await server.benches.closeAll()
  await server.store.close()
  await cp(folder, server.folder, { recursive: true, force: true })
  await rm(folder, { recursive: true })
  await server.open()
  const listening = server.app.listen(0, '127.0.0.1')
  await new Promise((resolve) => listening.once('listening', resolve))
  address = `http://127.0.0.1:${(listening.address() as AddressInfo).port}`
  globalThis.fetch = (path, init) => {
    if (typeof path !== 'string') throw new TypeError('The page asks by its path.')
    underWay++
    // Until all of it is here, as whoever asked has to wait for that, too.
    return wire(address + path, init)
      .then(async (answer) => new Response(await answer.arrayBuffer(), answer))
      .finally(() => underWay--)
  }
  close = () => new Promise((done) => void listening.close(() => done()))
})
afterAll(async () => {
  globalThis.fetch = wire
  await close()
  await server.stop()
})

/** Jobs by their place in the list: those of the demo, and one that goes on from one of them. */
const JOBS = Array.from({ length: 10 }, (_, k) => k)
const jobAt = async (k: number): Promise<Job> => ((await ask('/jobs')) as Job[])[k]!
/** Answers by what was asked, where there was something to answer. */
const answered = new Map<string, number>()
function same(what: string, page: unknown, answer: unknown): void {
  const isSomething =
    answer !== null &&
    Object.values(answer as object).some((one) => one !== null && (!Array.isArray(one) || one.length))
  if (isSomething) answered.set(what, (answered.get(what) ?? 0) + 1)
  expect(told(page)).toEqual(answer)
}

/**
 * A job with a history: a change taken, a run and a set left out of the mixture, a ceiling, a lag of its own, a complaint with
 * one end, and readings by hand made on the newer state.
 */
async function withHistory(): Promise<void> {
  const from = ((await ask('/jobs')) as Job[]).find((one) => one.title === 'Curlew 437, short silencer')!
  const zip = await (await wire(`${address}/api/v1/jobs/${from.id}/archive`)).blob()
  const form = new FormData()
  form.set('file', zip, 'job.zip')
  const { id } = (await (await wire(`${address}/api/v1/archives`, { method: 'POST', body: form })).json()) as Job
  const [table] = (await ask(`/jobs/${id}/tables`)) as TableInfo[]
  // Runs that came before their table: somebody has to say what they were made on.
  for (const { id: one } of (await ask(`/jobs/${id}/tables`)) as TableInfo[])
    await ask(`/jobs/${id}/made-on`, { table: one, revision: 1 })
  const change = (await ask(`/jobs/${id}/change`, { table: table!.id })) as { values: number[][] }
  const parent = table!.revisions.at(-1)!.n
  const saved = { values: change.values, parent, reason: 'As suggested', override: 'asked for by the test' }
  expect(await ask(`/jobs/${id}/tables/${table!.id}/revisions`, saved)).not.toBeNull()
  const set = (await ask(`/jobs/${id}/sets`, { name: 'After the change' })) as { id: string }
  const readings = [3000, 4500, 6000, 7500].flatMap((rpm) =>
    [20, 45, 70, 100].map((load, k) => ({ rpm, load, readings: [`0.${88 + k}`] })),
  )
  expect(await ask(`/jobs/${id}/hand-readings`, { name: 'By hand', set: set.id, readings })).not.toBeNull()
  expect(await ask(`/jobs/${id}/complaints`, { word: 'hesitates', fromRpm: 4000 })).not.toBeNull()
  const runs = (await ask(`/jobs/${id}/runs`)) as { id: string }[]
  const { mixture } = (await ask(`/jobs/${id}`)) as Job
  const facts = { limits: { revCeiling: 8500 }, mixture: { ...mixture, lagMs: 190, runsLeftOut: [runs[3]!.id] } }
  const changed = await wire(`${address}/api/v1/jobs/${id}`, {
    method: 'PATCH',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(facts),
  })
  expect(changed.status).toBe(200)
}

test('no job is left out but the day at the strip, which stands last and has no table', async () => {
  await withHistory()
  const all = (await ask('/jobs')) as Job[]
  expect(all).toHaveLength(JOBS.length + 1)
  expect(all.at(-1)!.title).toBe('Wheatear 310, a day at the strip')
})

describe.each(JOBS)('job %i', (k) => {
  it('field and flatness', async () => {
    const job = await jobAt(k)
    await openAs(job)
    const { field, busy } = scope.run(() => useField(() => job.id, useFieldQuestion().question, fields))!
    await busyFor(() => busy.value)
    const [answer, flat] = await Promise.all([ask(`/jobs/${job.id}/field`, {}), ask(`/jobs/${job.id}/flatness`, {})])
    same('field', field.value && fieldAnswer(field.value), answer)
    same('flatness', field.value && flatnessAnswer(field.value), flat)
  })
  it('the report tells the mixture of the runs that Mixture shows', async () => {
    const job = await jobAt(k)
    const { open } = await openAs(job)
    const { question, busy } = scope.run(() => {
      const asked = useFieldQuestion()
      return { ...asked, ...useField(() => job.id, asked.question, fields) }
    })!
    await busyFor(() => busy.value)
    const report = (await ask(`/jobs/${job.id}/report.json`)) as Report
    const { after, before } = report.mixture
    const name = open.sets.find((one) => one.id === open.setOfField)?.name
    const mixture = [after, before].find((one) => one && one.set === name)
    if (!mixture) return
    const flat = (await ask(`/jobs/${job.id}/flatness`, {})) as FlatnessAnswer
    const page = { runs: question.value!.runs.length, typical: flat.rmsPct }
    same('report', page, { runs: mixture.runs, typical: mixture.typical.value })
  })
  it('change of each fuel table, and the step of the loop', async () => {
    const job = await jobAt(k)
    const { open } = await openAs(job)
    for (const table of open.fuelTables) {
      const info = shallowRef<TableInfo | null>(table)
      const { question, field, suggested } = scope.run(() => useChange(info, ref({ ...DEFAULT_LIMITS }), fields))!
      const answer = await ask(`/jobs/${job.id}/change`, { table: table.id })
      await busyFor(() => Boolean(answer) && !suggested.value)
      same('change', suggested.value && changeAnswer(question.value!, field.value!, suggested.value), answer)
    }
    const loop = scope.run(() => {
      const { question } = useQuestion((ground) => (open.fuelTables.length ? loopQuestion(ground, loader) : null))
      return { question, ...useAnswer(() => job.id, 'loop', question, questions) }
    })!
    await busyFor(() => loop.busy.value)
    const { question, answer } = loop
    const step = await ask(`/jobs/${job.id}/loop-step`, {})
    same('loop step', question.value && answer.value && loopAnswer(question.value, answer.value), step)
  })
  it('ways to put a change in', async () => {
    const job = await jobAt(k)
    await openAs(job)
    const ways = scope.run(() => useWays(fields, questions))!
    await busyFor(() => ways.busy.value || (ways.isKnown.value && ways.lines.value.every((one) => !one.told)))
    const lines = ways.lines.value.filter((one) => one.told)
    if (!ways.wanted.value || lines.length === 0) return
    const asked = lines.map((one) => one.way)
    const page = waysAnswer({ wanted: ways.wanted.value, ways: lines.map((one) => one.told!) })
    same('ways', page, await ask(`/jobs/${job.id}/ways`, { ways: asked }))
  })
  it('whether the mixture answered', async () => {
    const job = await jobAt(k)
    const { open } = await openAs(job)
    for (const { id: table } of open.fuelTables) {
      const told = scope.run(() => {
        const { question } = useQuestion((ground) => answeredQuestion(ground, loader, { table }))
        return { question, ...useAnswer(() => job.id, 'answered', question, questions) }
      })!
      const answer = await ask(`/jobs/${job.id}/ways/answered`, { table })
      await busyFor(() => Boolean(answer) && !told.answer.value)
      const page = told.question.value && told.answer.value && answeredAnswer(told.question.value, told.answer.value)
      same('answered', page, answer)
    }
  })
  it('what was read beside the mixture', async () => {
    const job = await jobAt(k)
    await openAs(job)
    const told = scope.run(() => {
      const { question } = useQuestion((ground) => besideQuestion(ground, loader))
      return { question, ...useAnswer(() => job.id, 'beside', question, questions) }
    })!
    const answer = await ask(`/jobs/${job.id}/beside`, {})
    if (!answer) return
    await busyFor(() => !told.answer.value)
    same('beside', besideAnswer(told.question.value!, told.answer.value!), answer)
  })
  it('plan and next run', async () => {
    const job = await jobAt(k)
    const { open, handling } = await openAs(job)
    const ground = { ...open, job: open.job!, complaints: handling.complaints }
    const plan = (await ask(`/jobs/${job.id}/plan`)) as Record<string, unknown>
    same('plan', planOf(ground), { choice: plan.choice, plan: plan.plan, ticks: plan.ticks })
    const next = scope.run(() => {
      const { question } = useQuestion(async (now) => {
        const asked = await nextRunQuestion(now, loader)
        return asked.untold.length ? null : asked
      })
      return useAnswer(() => job.id, 'next run', question, questions)
    })!
    await busyFor(() => next.busy.value)
    same('next run', next.answer.value, await ask(`/jobs/${job.id}/next-run`, {}))
  })
  it('answer to the hand, spark and jetting', async () => {
    const job = await jobAt(k)
    const { open } = await openAs(job)
    const response = scope.run(() => useResponse(questions))!
    await busyFor(() => response.working.busy.value)
    const set = open.set && { set: open.set.id }
    const { response: hand } = response
    if (set) same('response', hand.value && responseAnswer(hand.value), await ask(`/jobs/${job.id}/response`, set))
    const spark = scope.run(() => useSpark(questions))!
    await busyFor(() => spark.busy.value)
    const { bins, mixtures, proof, next } = spark
    const page = { bins: bins.value, mixtures: mixtures.value, proof: proof.value, next: next.value }
    same('spark', page, {
      ...((await ask(`/jobs/${job.id}/spark-fit`, {})) as object),
      ...((await ask(`/jobs/${job.id}/mixture-sweep`, {})) as object),
    })
    const jetting = scope.run(() => useJetting(questions))!
    await busyFor(() => jetting.busy.value)
    const { readings, warnings, tipIn, list, told: words, model } = jetting
    const { inadequate, advice, air } = words.value
    const rows = [...readings.value].map(([id, all]) => ({ set: id, rows: all }))
    const seen = {
      readings: rows,
      warnings: warnings.value,
      tipIn: tipIn.value,
      list: list.value,
      present: model.value,
    }
    if (job.jetting) same('jetting', { ...seen, inadequate, advice, air }, await ask(`/jobs/${job.id}/parts`, {}))
  })
})

test('every question had something to answer', () => {
  expect(Object.fromEntries(answered)).toEqual({
    field: 8,
    flatness: 8,
    change: 6,
    answered: 1,
    beside: 10,
    ways: 8,
    'loop step': 7,
    plan: 10,
    report: 8,
    'next run': 9,
    response: 9,
    spark: 3,
    jetting: 1,
  })
})

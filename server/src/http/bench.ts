import { Router } from 'express'
import {
  benchFaultsSchema,
  benchSchema,
  CALIBRATION_STEPS,
  checkInput,
  benchWriteSchema,
  nameAsFound,
  rangeFault,
  shapeFault,
  SIMULATED_MACHINES,
} from '@yuzumix/core'
import { noteSettled, noteWritten, openBefore } from '../acts/putBack'
import { TooLarge } from '../acts/judgeSteps'
import { judgeWrite } from '../acts/judgeWrite'
import type { Benches } from '../rigs/benches'
import { simulatedOf } from '../rigs/connect'
import { MAKERS } from '../rigs/makers'
import type { BenchSession } from '../rigs/session'
import { writeEntry } from '../store/entries'
import { addTable, listTables } from '../store/tables'
import { findTraining } from '../store/trainings'
import { jobOf, param, type Context } from './context'
import { notFound, Problem } from './problem'

/** A bench as answered. */
export async function stateOf(session: BenchSession): Promise<object> {
  const { link } = session
  const controller = link.state()
  return {
    id: session.id,
    name: link.name,
    cylinders: link.cylinders,
    redline: link.redline,
    weather: link.weather(),
    controller,
    sensors: link.sensors(),
    tables: controller.readable ? await link.tables() : [],
    news: session.news(),
  }
}

const CALIBRATED = {
  closed: 'throttle sensor, plate shut',
  open: 'throttle sensor, plate wide open',
  'free-air': 'wideband, in free air',
}

export function benchRoutes(context: Context, benches: Benches): Router {
  const { store } = context
  const router = Router()
  /** Sessions whose first contents are saved in the job. */
  const saved = new WeakSet<BenchSession>()

  const sessionOf = (job: string): BenchSession => {
    const session = benches.of(job)
    if (!session) throw new Problem(409, 'No bench', 'No bench is connected to this job. Connect one first.')
    return session
  }
  const log = (job: string, act: string, text: string): Promise<void> =>
    store.act((transaction) => writeEntry(store, transaction, job, act, text))

  /** Keeps what was in the controller as a table of the job, before the first write of a session. */
  async function saveFirst(session: BenchSession): Promise<void> {
    if (saved.has(session)) return
    const known = await listTables(store, session.job)
    for (const { name, cylinder, table } of await session.link.tables()) {
      const same = known.some(
        (one) =>
          JSON.stringify([one.table.rpm, one.table.load, one.table.values]) ===
          JSON.stringify([table.rpm, table.load, table.values]),
      )
      if (!same)
        await addTable(store, session.job, { name: nameAsFound(name), cylinder, table }, 'As found in the controller')
    }
    saved.add(session)
  }

  router.get('/bench/machines', (_request, response) => {
    response.json(SIMULATED_MACHINES.map(({ id, name, engine }) => ({ id, name, cylinders: engine.cylinders })))
  })
  router.get('/jobs/:job/bench', async (request, response) => {
    const job = await jobOf(request, context)
    const session = benches.of(job.id)
    response.json(session && (await stateOf(session)))
  })
  router.put('/jobs/:job/bench', async (request, response) => {
    const job = await jobOf(request, context)
    const asked = checkInput(benchSchema, request.body)
    if (await findTraining(store, job.id))
      throw new Problem(
        409,
        'A case of the trainer',
        'This job is a case of the trainer: its own machine is on the drum.',
      )
    const session = await MAKERS[asked.maker](store, benches, job, asked)
    response.status(201).json(await stateOf(session))
  })
  router.delete('/jobs/:job/bench', async (request, response) => {
    if (!(await benches.disconnect(param(request, 'job')))) throw notFound('bench')
    await log(param(request, 'job'), 'bench disconnected', '')
    response.status(204).end()
  })
  router.patch('/jobs/:job/bench/faults', async (request, response) => {
    const session = sessionOf(param(request, 'job'))
    const faults = simulatedOf(session)?.faults
    if (!faults) throw new Problem(409, 'No simulated rig', 'Only a simulated rig can be given faults.')
    Object.assign(faults, checkInput(benchFaultsSchema, request.body))
    response.json(faults)
  })
  for (const step of CALIBRATION_STEPS) {
    router.post(`/jobs/:job/bench/calibrate/${step}`, async (request, response) => {
      const session = sessionOf(param(request, 'job'))
      await session.link.calibrate(step)
      await log(session.job, 'calibrated', CALIBRATED[step])
      session.refresh()
      response.json(await stateOf(session))
    })
  }
  router.post('/jobs/:job/bench/tables/:table', async (request, response) => {
    const session = sessionOf(param(request, 'job'))
    const { values, override } = checkInput(benchWriteSchema, request.body)
    const waiting = await openBefore(store, session.job, 'write')
    if (waiting.length)
      throw new Problem(
        409,
        'To be put back first',
        `Before a write must be back: ${waiting.map((one) => `${one.what} (now ${one.now})`).join(', ')}.`,
        waiting.map((one) => ({ field: 'put-back', message: one.what })),
      )
    await saveFirst(session)
    const slot = (await session.link.tables()).find((one) => one.id === param(request, 'table'))
    // What the controller cannot take anyway it refuses itself.
    const fits = slot && !shapeFault(slot.table, values) && !rangeFault(slot.table.kind, values)
    const judged = fits ? await judgeWrite(context, session, slot, values) : null
    const isLarge = judged !== null && judged.steps.length > 0
    if (isLarge && !override) throw new TooLarge(judged.steps, judged.from)
    await session.link.write(param(request, 'table'), values)
    if (isLarge)
      await log(
        session.job,
        `large step of ${slot!.table.kind.startsWith('fuel') ? 'fuel' : 'spark'}`,
        `${slot!.name}, written to the bench: ${override}`,
      )
    await noteWritten(store, session.job, slot?.name ?? param(request, 'table'))
    await log(session.job, 'written to the bench', `${param(request, 'table')}: not kept yet`)
    response.json(await stateOf(session))
  })
  for (const [act, said] of [
    ['keep', 'kept on the bench'],
    ['restore', 'first contents restored'],
    ['recover', 'controller recovered'],
    ['power-cycle', 'power cut and given back'],
  ] as const) {
    router.post(`/jobs/:job/bench/${act}`, async (request, response) => {
      const session = sessionOf(param(request, 'job'))
      const { link } = session
      await { keep: link.keep, restore: link.restore, recover: link.recover, 'power-cycle': link.powerCycle }[act]()
      if (act !== 'recover') await noteSettled(store, session.job, said)
      await log(session.job, said, link.name)
      response.json(await stateOf(session))
    })
  }
  return router
}

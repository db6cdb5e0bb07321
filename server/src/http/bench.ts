import { Router, type Request } from 'express'
import {
  benchFaultsSchema,
  benchSchema,
  CALIBRATION_STEPS,
  checkInput,
  benchWriteSchema,
  grouped,
  nameAsFound,
  passGate,
  rangeFault,
  reasonedSchema,
  shapeFault,
  SIMULATED_MACHINES,
  tableSteps,
  type Danger,
  type GateLine,
} from '@yuzumix/core'
import { noteSettled, noteWritten, openBefore } from '../acts/putBack'
import { judgeRestore, judgeWrite } from '../acts/judgeWrite'
import type { Benches } from '../rigs/benches'
import { simulatedOf } from '../rigs/connect'
import { MAKERS } from '../rigs/makers'
import { STILL, type BenchSession } from '../rigs/session'
import { writeEntry, writeLines } from '../store/entries'
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
  /** Whoever does not drive does not act on the bench while somebody else does: acts over HTTP say who drives. */
  const sessionFor = (request: Request): BenchSession => {
    const session = sessionOf(param(request, 'job'))
    session.needsNobodyElse(request.get('x-driver'))
    return session
  }
  const keepLines = async (job: string, lines: readonly GateLine[]): Promise<void> => {
    if (lines.length) await store.act((transaction) => writeLines(store, transaction, job, lines))
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
    const before = benches.of(job.id)
    before?.needsNobodyElse(request.get('x-driver'))
    if (before) passGate(unkeptDangers(before), asked.override)
    const session = await MAKERS[asked.maker](store, benches, job, asked)
    response.status(201).json(await stateOf(session))
  })
  router.delete('/jobs/:job/bench', async (request, response) => {
    benches.of(param(request, 'job'))?.needsNobodyElse(request.get('x-driver'))
    if (!(await benches.disconnect(param(request, 'job')))) throw notFound('bench')
    await log(param(request, 'job'), 'bench disconnected', '')
    response.status(204).end()
  })
  router.patch('/jobs/:job/bench/faults', async (request, response) => {
    const session = sessionFor(request)
    const faults = simulatedOf(session)?.faults
    if (!faults) throw new Problem(409, 'No simulated rig', 'Only a simulated rig can be given faults.')
    Object.assign(faults, checkInput(benchFaultsSchema, request.body))
    response.json(faults)
  })
  for (const step of CALIBRATION_STEPS) {
    router.post(`/jobs/:job/bench/calibrate/${step}`, async (request, response) => {
      const session = sessionFor(request)
      await session.link.calibrate(step)
      await log(session.job, 'calibrated', CALIBRATED[step])
      session.refresh()
      response.json(await stateOf(session))
    })
  }
  router.post('/jobs/:job/bench/tables/:table', async (request, response) => {
    const session = sessionFor(request)
    needsStill(session)
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
    const lines = passGate(judged ? tableSteps(slot!.table.kind, judged.steps, judged.from) : [], override)
    await session.link.write(param(request, 'table'), values)
    await keepLines(
      session.job,
      lines.map(({ act, text }) => ({ act, text: `${slot!.name}, written to the bench: ${text}` })),
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
      const session = sessionFor(request)
      const { link } = session
      const { override } = checkInput(reasonedSchema, request.body ?? {})
      if (act !== 'power-cycle') needsStill(session)
      const lines = act === 'restore' ? passGate(await judgeRestore(session), override) : []
      await { keep: link.keep, restore: link.restore, recover: link.recover, 'power-cycle': link.powerCycle }[act]()
      if (act !== 'recover') await noteSettled(store, session.job, said)
      await keepLines(session.job, lines)
      await log(session.job, said, link.name)
      response.json(await stateOf(session))
    })
  }
  return router
}

/** @throws GateRefusal while the engine runs: it stands still for every write */
function needsStill(session: BenchSession): void {
  const rpm = session.latestRpm()
  if (rpm > STILL)
    passGate(
      [
        {
          kind: 'engine running',
          field: 'engine',
          text: `The engine turns at ${grouped(rpm)} rpm. Stop it first: it stands still for every write.`,
          never: true,
        },
      ],
      undefined,
    )
}

/** What is lost when a bench is replaced: tables that were written and not kept. */
function unkeptDangers({ link }: BenchSession): Danger[] {
  const { unkept } = link.state()
  if (unkept.length === 0) return []
  return [
    {
      kind: 'kept change',
      field: 'bench',
      text: `${unkept.join(', ')}: written and not kept. It is lost when another bench is connected. Keep or restore it first, or say why it may go.`,
    },
  ]
}

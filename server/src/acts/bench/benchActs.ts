import {
  isStanding,
  Refusal,
  inputRefused,
  grouped,
  nameAsFound,
  passGate,
  rangeFault,
  shapeFault,
  tableSteps,
  type BenchState,
  type CalibrationStep,
  type Danger,
  type GateLine,
  type Matrix,
} from '@yuzumix/core'
import type { BenchSession } from '../../sessions/session'
import { writeEntry, writeLines } from '../../store/entries'
import type { Store } from '../../store/database'
import { addTable, listTables } from '../../store/tables'
import type { Workshop } from '../questions/ask'
import { judgeRestore, judgeWrite } from './judgeWrite'
import { noteSettled, noteWritten, openBefore } from '../handling/putBack'

/** A bench as answered. */
export async function benchState(session: BenchSession): Promise<BenchState> {
  const { link } = session
  const controller = link.state()
  return {
    id: session.id,
    name: link.name,
    readsOnly: link.readsOnly === true,
    lines: link.lines?.() ?? null,
    cylinders: link.cylinders,
    redline: link.redline,
    weather: link.weather(),
    controller,
    sensors: link.sensors(),
    tables: controller.readable ? await link.tables() : [],
    ways: controller.readable ? await link.ways() : null,
    news: session.news(),
  } as BenchState
}

/** @throws what the gate refuses, while the engine runs: it stands still for every write */
function needsStill(session: BenchSession): void {
  const rpm = session.latestRpm()
  if (!isStanding(rpm))
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
export function unkeptDangers({ link }: BenchSession): Danger[] {
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

/** Sessions whose first contents are saved in the job. */
const saved = new WeakSet<BenchSession>()

/** Keeps what was in the controller as a table of the job, before the first write of a session. */
async function saveFirst(store: Store, session: BenchSession): Promise<void> {
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

/**
 * Sees to it that a write may be done: the engine stands still, nothing has to be put back before, and what was in the
 * controller first is saved in the job.
 *
 * @throws what the gate refuses, and Refusal 'put-back-first'
 */
export async function readyToWrite(store: Store, session: BenchSession): Promise<void> {
  needsStill(session)
  const waiting = await openBefore(store, session.job, 'write')
  if (waiting.length)
    throw new Refusal(
      'put-back-first',
      `Before a write must be back: ${waiting.map((one) => `${one.what} (now ${one.now})`).join(', ')}.`,
      waiting.map((one) => ({ field: 'put-back', message: one.what })),
    )
  await saveFirst(store, session)
}

/**
 * Writes a table to the controller, volatile until it is kept.
 *
 * @param id of the controller's table
 * @param override why a large step is taken all the same
 * @throws as `readyToWrite`, and what the controller refuses itself
 */
export async function writeBench(
  workshop: Workshop,
  session: BenchSession,
  id: string,
  values: Matrix,
  override: string | undefined,
): Promise<void> {
  const { store } = workshop
  await readyToWrite(store, session)
  const slot = (await session.link.tables()).find((one) => one.id === id)
  // What the controller cannot take anyway it refuses itself.
  const fits = slot && !shapeFault(slot.table, values) && !rangeFault(slot.table.kind, values)
  const judged = fits ? await judgeWrite(workshop, session, slot, values) : null
  const lines = passGate(judged ? tableSteps(slot!.table.kind, judged.steps, judged.from) : [], override)
  await session.link.write(id, values)
  await store.act(async (transaction) => {
    const said = lines.map(({ act, text }) => ({ act, text: `${slot!.name}, written to the bench: ${text}` }))
    await writeLines(store, transaction, session.job, said)
    await noteWritten(store, transaction, session.job, slot?.name ?? id)
    await writeEntry(store, transaction, session.job, 'written to the bench', `${id}: not kept yet`)
  })
  store.changes.notify({ job: session.job, parts: ['bench'] })
}

/** What is done to all of a controller, as the logbook says it. */
const WHOLE = {
  keep: 'kept on the bench',
  restore: 'first contents restored',
  recover: 'controller recovered',
  powerCycle: 'power cut and given back',
} as const

/**
 * Does something to all of a controller.
 *
 * @param override why restoring takes a large step all the same
 * @throws what the gate refuses, while the engine runs, unless its power is cut
 */
export async function tellBench(
  store: Store,
  session: BenchSession,
  act: keyof typeof WHOLE,
  override?: string,
): Promise<void> {
  const { link } = session
  if (act !== 'powerCycle') needsStill(session)
  const lines: GateLine[] = act === 'restore' ? passGate(await judgeRestore(session), override) : []
  await link[act]()
  await store.act(async (transaction) => {
    if (act !== 'recover') await noteSettled(store, transaction, session.job, WHOLE[act])
    await writeLines(store, transaction, session.job, lines)
    await writeEntry(store, transaction, session.job, WHOLE[act], link.name)
  })
  store.changes.notify({ job: session.job, parts: ['bench'] })
}

const CALIBRATED: Record<CalibrationStep, string> = {
  closed: 'throttle sensor, plate shut',
  open: 'throttle sensor, plate wide open',
  'free-air': 'wideband, in free air',
}

/** Takes what a sensor reads now for what it is known to be. @throws Refusal 'input-refused' for a step that there is not */
export async function calibrateBench(store: Store, session: BenchSession, step: string): Promise<void> {
  if (!Object.hasOwn(CALIBRATED, step))
    throw inputRefused([{ field: 'step', message: `must be one of ${Object.keys(CALIBRATED).join(', ')}` }])
  const known = step as CalibrationStep
  await session.link.calibrate(known)
  await store.act((transaction) => writeEntry(store, transaction, session.job, 'calibrated', CALIBRATED[known]))
  session.refresh()
}

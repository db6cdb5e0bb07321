import {
  benchWayOf,
  checkInput,
  checkSettings,
  inputRefused,
  nameOfWay,
  neutralWays,
  passGate,
  tableSteps,
  type ControllerWays,
  type Danger,
  type WayAsked,
} from '@yuzumix/core'
import type { BenchSession } from '../../sessions/session'
import { writeEntry, writeLines } from '../../store/entries'
import { listTables } from '../../store/tables'
import type { Workshop } from '../questions/ask'
import { noteWritten } from '../handling/putBack'
import { readyToWrite } from './benchActs'
import { wayStepsBetween } from './judgeWrite'

type Kind = keyof ControllerWays
const isKind = (kind: string): kind is Kind => Object.hasOwn(neutralWays(), kind)

/**
 * Sets one of the settings beside the tables of a controller, volatile until it is kept.
 *
 * @param given its numbers, as they came
 * @param override why a large step is taken all the same
 * @throws Refusal 'input-refused' for another kind or numbers that are none; as `readyToWrite`; what the controller refuses itself
 */
export async function writeWay(
  workshop: Workshop,
  session: BenchSession,
  kind: string,
  given: object,
  override: string | undefined,
): Promise<void> {
  const { store } = workshop
  if (!isKind(kind))
    throw inputRefused([{ field: 'kind', message: `must be one of ${Object.keys(neutralWays()).join(', ')}` }])
  const settings = checkInput(benchWayOf(kind), given) as ControllerWays[Kind]
  // An asked way stands for its kind alone: what it was worked out from is not known here.
  checkSettings({ kind } as WayAsked & { kind: Kind }, settings as never, 'settings')
  await readyToWrite(store, session)
  const lines = passGate(await stepsOf(workshop, session, kind, settings), override)
  await session.link.writeWay(kind, settings)
  const name = nameOfWay(kind)
  await store.act(async (transaction) => {
    const said = lines.map(({ act, text }) => ({ act, text: `${name}, written to the bench: ${text}` }))
    await writeLines(store, transaction, session.job, said)
    await noteWritten(store, transaction, session.job, name)
    await writeEntry(store, transaction, session.job, 'written to the bench', `${name}: not kept yet`)
  })
  store.changes.notify({ job: session.job, parts: ['bench'] })
}

/** Steps of fuel from what stands in the controller to new settings that are too large to be taken unasked. */
async function stepsOf(
  workshop: Workshop,
  session: BenchSession,
  kind: Kind,
  settings: ControllerWays[Kind],
): Promise<Danger[]> {
  const [now, tables] = await Promise.all([session.link.ways(), session.link.tables()])
  const steps = wayStepsBetween(tables[0]!.table, kind, now, settings)
  if (steps.length === 0 || (await isReasoned(workshop, session.job, settings))) return []
  return tableSteps('fuel trim', steps, 'what is in the controller now')
}

/** Whether these numbers are those of a revision that was saved with a reason for its large step. */
async function isReasoned({ store }: Workshop, job: string, settings: ControllerWays[Kind]): Promise<boolean> {
  const tables = await listTables(store, job)
  return tables.some((table) =>
    table.revisions.some(
      ({ override, way }) => override !== null && way && JSON.stringify(way.settings) === JSON.stringify(settings),
    ),
  )
}

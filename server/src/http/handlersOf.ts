import { ALL_CALLS, changesMachine, openapi, STEP_LIMITS } from '@yuzumix/core'
import { spaceLeft, spaceWords } from '../folder/space'
import type { Benches } from '../sessions/benches'
import type { Access } from '../access/access'
import { accessHandlers } from './access'
import { archiveHandlers } from './archive'
import { benchHandlers } from './bench'
import type { Workshop } from '../acts/questions/ask'
import { entryHandlers } from './entries'
import type { Handlers } from './handlers'
import { handlingHandlers } from './handling'
import { handOverHandlers } from './handOver'
import { jobHandlers } from './jobs'
import { keepingHandlers } from './keeping'
import { questionHandlers } from './questions'
import { runHandlers } from './runs'
import { setHandlers } from './sets'
import { shelfHandlers } from './shelf'
import { tableHandlers } from './tables'
import { trainerHandlers } from './trainer'
import { underWay } from './underWay'

/** Calls that ask about something before anything of them can reach an engine. */
const gatesOfCalls = (): object[] =>
  ALL_CALLS.flatMap((call) =>
    typeof call.gate === 'string'
      ? []
      : [
          {
            call: call.name,
            method: call.method.toUpperCase(),
            path: call.path,
            asksAbout: call.gate,
            changesMachine: changesMachine(call),
          },
        ],
  )

/** Room on the disk as the interface tells it. */
const roomTold = async (folder: string): Promise<object> => {
  const space = await spaceLeft(folder)
  return { freeMb: Math.round(space.free / 1e6), isShort: space.isShort, said: spaceWords(space) }
}

/** What answers every call of the contract: one that lacks its handler does not compile. */
export function handlersOf(
  context: Workshop,
  benches: Benches,
  version: string,
  access: Access,
  listening: { open: boolean; secure: boolean },
): Handlers {
  const work = underWay()
  // Put together when it is first asked for: that takes a fifth of a start.
  let document: ReturnType<typeof openapi> | undefined
  return {
    health: async () => ({ status: 'ok', version, space: await roomTold(context.store.folder) }),
    document: () => (document ??= openapi(version)),
    rules: () => ({ steps: STEP_LIMITS, gates: gatesOfCalls() }),
    ...jobHandlers(context, benches),
    ...accessHandlers(access, listening),
    ...keepingHandlers(context, benches),
    ...archiveHandlers(context, work),
    ...entryHandlers(context),
    ...runHandlers(context, work),
    ...setHandlers(context),
    ...questionHandlers(context),
    ...tableHandlers(context),
    ...shelfHandlers(context),
    ...benchHandlers(context, benches),
    ...trainerHandlers(context, benches),
    ...handlingHandlers(context),
    ...handOverHandlers(context, benches),
  }
}

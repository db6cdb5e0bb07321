import { openapi } from '@yuzumix/core'
import type { Benches } from '../rigs/benches'
import { archiveHandlers } from './archive'
import { benchHandlers } from './bench'
import type { Context } from './context'
import { entryHandlers } from './entries'
import type { Handlers } from './handlers'
import { handlingHandlers } from './handling'
import { handOverHandlers } from './handOver'
import { jobHandlers } from './jobs'
import { questionHandlers } from './questions'
import { runHandlers } from './runs'
import { setHandlers } from './sets'
import { shelfHandlers } from './shelf'
import { tableHandlers } from './tables'
import { trainerHandlers } from './trainer'

/** What answers every call of the contract: one that lacks its handler does not compile. */
export function handlersOf(context: Context, benches: Benches, version: string): Handlers {
  // Put together when it is first asked for: that takes a fifth of a start.
  let document: ReturnType<typeof openapi> | undefined
  return {
    health: () => ({ status: 'ok', version }),
    document: () => (document ??= openapi()),
    ...jobHandlers(context, benches),
    ...archiveHandlers(context),
    ...entryHandlers(context),
    ...runHandlers(context),
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

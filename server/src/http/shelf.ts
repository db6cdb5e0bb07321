import { inputRefused, shelfMatches, type Shelf } from '@yuzumix/core'
import { againstShelf, keepOnShelf, meanOf, startFromShelf } from '../acts/tables/shelf'
import { findJob } from '../store/jobs'
import { dropShelf, findShelf, listShelf } from '../store/shelf'
import { findTable } from '../store/tables'
import type { Workshop } from '../acts/questions/ask'
import type { Handlers } from './handlers'

/** Calibrations kept from earlier jobs. */
export function shelfHandlers(context: Workshop) {
  const { store } = context
  const shelfOf = async (id: string): Promise<Shelf> => {
    const shelf = await findShelf(store, id)
    if (!shelf) throw inputRefused([{ field: 'shelf', message: 'there is no such calibration on the shelf' }])
    return shelf
  }
  return {
    shelf: () => listShelf(store),
    async keepOnShelf({ body: { job: id, name, table }, gone }) {
      const job = await findJob(store, id)
      const info = job && table !== undefined ? await findTable(store, id, table) : null
      if (!job || (table !== undefined && !info))
        throw inputRefused([{ field: job ? 'table' : 'job', message: `there is no such ${job ? 'table' : 'job'}` }])
      return keepOnShelf(context, job, info, name, gone())
    },
    shelved: ({ at }) => findShelf(store, at.shelf),
    dropShelf: ({ at }) => dropShelf(store, at.shelf),
    shelfMatches: async ({ job }) => shelfMatches(await job(), await listShelf(store)),
    async shelfStart({ job, body: { shelf: id, mean, override } }) {
      const own = await job()
      const shelf = await shelfOf(id)
      const matches = shelfMatches(own, await listShelf(store))
      return startFromShelf(context, own, mean ? meanOf(shelf, matches) : shelf, matches, override)
    },
    async againstShelf({ job, at, body }) {
      const own = await job()
      if (!(await findTable(store, own.id, at.table))) return null
      return againstShelf(context, own, at.table, await shelfOf(body.shelf))
    },
  } satisfies Partial<Handlers>
}

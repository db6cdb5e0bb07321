import { unlessRefused, type Loader, type Table } from '@yuzumix/core'
import { api } from '@/api/client'

const states = new Map<string, Promise<Table | null>>()

/** A state of a table; null when there is none. */
const fetched = (job: string, table: string, n: number): Promise<Table | null> =>
  unlessRefused(async () => (await api.revision(job, table, n)).table, 'not-found')

/** Older states of the open job's tables, asked of the server: each once a session, for it never changes. */
export const loader: Loader = {
  revision(job, table, n) {
    const key = `${job} ${table} ${n}`
    const state = states.get(key) ?? fetched(job, table, n)
    states.set(key, state)
    // What could not be had is asked for again.
    state.catch(() => states.delete(key))
    return state
  },
  histories: (job, since) => api.histories(job, { since }),
}

import type { Loader, Table } from '@yuzumix/core'
import { api, ProblemError } from '@/api/client'

const states = new Map<string, Promise<Table | null>>()

/** A state of a table; null when there is none. */
const fetched = (job: string, table: string, n: number): Promise<Table | null> =>
  api.revision(job, table, n).then(
    (one) => one.table,
    (error: unknown) => {
      if (error instanceof ProblemError && error.status === 404) return null
      throw error
    },
  )

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

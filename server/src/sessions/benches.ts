import { wallClock, type Clock } from '../rigs/clock'
import type { BenchSession } from './session'

/** Benches connected now, one a job. */
export interface Benches {
  /** the time that rigs live by */
  readonly clock: Clock
  of(job: string): BenchSession | null
  /** Connects; a bench that was there is closed first, its run kept. */
  connect(session: BenchSession): Promise<void>
  disconnect(job: string): Promise<boolean>
  closeAll(): Promise<void>
}

export function openBenches(clock: Clock = wallClock()): Benches {
  const sessions = new Map<string, BenchSession>()
  const disconnect = async (job: string): Promise<boolean> => {
    const session = sessions.get(job)
    sessions.delete(job)
    await session?.close()
    return session !== undefined
  }
  return {
    clock,
    of: (job) => sessions.get(job) ?? null,
    async connect(session) {
      await disconnect(session.job)
      sessions.set(session.job, session)
    },
    disconnect,
    async closeAll() {
      await Promise.all([...sessions.keys()].map(disconnect))
    },
  }
}

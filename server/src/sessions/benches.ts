import { wallClock, type Clock } from '../rigs/clock'
import type { BenchSession } from './session'

/** Benches connected now, one a job. */
export interface Benches {
  /** the time that rigs live by */
  readonly clock: Clock
  of(job: string): BenchSession | null
  /** Connects; a bench that was there is closed first, its run kept. */
  connect(session: BenchSession): Promise<void>
  /** @throws what keeps its last run from being stored: it stays connected then */
  disconnect(job: string): Promise<boolean>
  closeAll(): Promise<void>
}

export function openBenches(clock: Clock = wallClock()): Benches {
  const sessions = new Map<string, BenchSession>()
  const disconnect = async (job: string): Promise<boolean> => {
    const session = sessions.get(job)
    // A run that cannot be stored keeps its bench: nothing of it is dropped.
    await session?.settle()
    if (session && sessions.get(job) === session) sessions.delete(job)
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
      await Promise.all(
        [...sessions.values()].map(async (session) => {
          // What cannot be stored is found again in its file.
          await session.settle().catch(() => undefined)
          await session.close()
        }),
      )
      sessions.clear()
    },
  }
}

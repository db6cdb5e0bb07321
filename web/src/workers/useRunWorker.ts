import type { Remote } from 'comlink'
import { onScopeDispose, readonly, ref } from 'vue'
import type { ColumnPurpose, RunColumns, RunInfo } from '@yuzumix/core'
import { fetchColumns } from '@/api/columns'
import type { Connected } from './connect'
import { sendRuns } from './sendRuns'

/** A worker that takes runs' columns before it computes on them. */
interface TakesRuns {
  addRun(key: string, run: RunColumns): void
}

/** What a piece of work has at hand. Every call is given up, and nothing after it runs, once the work is no longer wanted. */
export interface Work<Api> {
  /** Brings what the worker lacks of these runs. */
  send(runs: readonly RunInfo[]): Promise<void>
  /** Asks the worker. */
  ask<T>(question: (worker: Remote<Api>) => Promise<T>): Promise<T>
  /** Waits for something else that the work needs. */
  wait<T>(answer: Promise<T>): Promise<T>
  isWanted(): boolean
}

/** Ends work that is no longer wanted; never seen outside. */
class GivenUp extends Error {}

/** ms after which progress is shown. */
const SHOW_PROGRESS_AFTER = 300

/**
 * The life of a worker on runs' columns: started when first needed, given each run once, only the newest piece of work
 * counts, answers that come late are dropped, and all of it can be stopped.
 *
 * @param connect starts the worker
 * @param job whose runs they are
 * @param purpose which columns of a run the worker needs
 */
export function useRunWorker<Api extends TakesRuns>(
  connect: () => Connected<Api>,
  job: () => string,
  purpose: ColumnPurpose,
  fetch: typeof fetchColumns = fetchColumns,
) {
  const busy = ref(false)
  const slow = ref(false)
  const problem = ref('')
  /** share of the columns that have come */
  const loaded = ref(1)
  const sent = new Set<string>()
  let worker: Connected<Api> | null = null
  let round = 0

  const start = (): Remote<Api> => (worker ??= connect()).remote
  function end(): void {
    round++
    worker?.end()
    worker = null
    sent.clear()
    ;[busy.value, slow.value] = [false, false]
  }

  /**
   * Does a piece of work; what was under way before it is given up.
   *
   * @returns whether it went through: false when it was given up or failed, which `problem` then tells
   */
  async function run(work: (at: Work<Api>) => Promise<void>): Promise<boolean> {
    const mine = ++round
    const isWanted = (): boolean => mine === round
    async function wait<T>(answer: Promise<T>): Promise<T> {
      const got = await answer
      if (!isWanted()) throw new GivenUp()
      return got
    }
    const timer = setTimeout(() => (slow.value ||= isWanted()), SHOW_PROGRESS_AFTER)
    busy.value = true
    try {
      await work({
        isWanted,
        wait,
        ask: (question) => wait(question(start())),
        async send(runs) {
          const add = (key: string, one: RunColumns): Promise<void> =>
            (start() as unknown as Remote<TakesRuns>).addRun(key, one)
          const share = (part: number): void => void (isWanted() && (loaded.value = part))
          await wait(sendRuns(job(), runs, purpose, sent, add, share, isWanted, fetch))
        },
      })
      if (isWanted()) problem.value = ''
      return isWanted()
    } catch (error) {
      if (isWanted() && !(error instanceof GivenUp)) problem.value = (error as Error).message
      return false
    } finally {
      clearTimeout(timer)
      if (isWanted()) [busy.value, slow.value] = [false, false]
    }
  }

  /** Stops what is under way; the next piece of work begins with a new worker. */
  function cancel(why = 'Stopped. Change a setting or the runs to begin anew.'): void {
    end()
    problem.value = why
  }
  onScopeDispose(end)
  return {
    busy: readonly(busy),
    slow: readonly(slow),
    loaded: readonly(loaded),
    problem,
    run,
    cancel,
    /** Asks the worker on the side, about what it worked out last. */
    askLatest: <T>(question: (worker: Remote<Api>) => Promise<T>): Promise<T> => question(start()),
  }
}

/** Reactive proxies cannot cross to a worker. */
export function plainCopy<T>(value: T): T {
  return JSON.parse(JSON.stringify(value)) as T
}

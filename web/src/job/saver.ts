import { ref } from 'vue'

/** Choices of a job that save themselves when they have come to rest. */
export interface Saver<Change extends object> {
  /** `waiting` until they rest, `saving` until the answer is here */
  state: Readonly<{ value: 'saved' | 'waiting' | 'saving' | 'failed' }>
  /** Takes a change of that job: what is waiting for another job is sent first, under its own id. */
  later(job: string, change: Change): void
  /** What of that job was chosen and is not known to be saved; an answer asked for before knows nothing of it. @param alsoUnderWay false for an answer to what is under way */
  pending(job: string, alsoUnderWay?: boolean): Change | null
  /** Sends what is waiting, now; resolves when nothing of it is under way any more. */
  flush(): Promise<void>
}

/**
 * Gathers changes of one job after the other and sends them once they rest. A change keeps the id of the job it was made
 * in, however late it is sent.
 *
 * @param send stores a change; what it rejects with is given to `onFault`
 * @param rest ms without a further change
 */
export function saver<Change extends object>(
  send: (job: string, change: Change) => Promise<void>,
  onFault: (error: Error) => void,
  rest = 500,
): Saver<Change> {
  const state = ref<'saved' | 'waiting' | 'saving' | 'failed'>('saved')
  let waiting: { job: string; change: Change } | null = null
  let sending: { job: string; change: Change } | null = null
  let timer: ReturnType<typeof setTimeout> | undefined
  let last: Promise<void> = Promise.resolve()

  function sendNow(): Promise<void> {
    clearTimeout(timer)
    const now = waiting
    if (!now) return last
    waiting = null
    state.value = 'saving'
    // One after the other: the last choice has the last word.
    last = last
      .then(() => {
        sending = now
        return send(now.job, now.change)
      })
      .finally(() => (sending = null))
      .then(
        () => {
          if (!waiting && state.value === 'saving') state.value = 'saved'
        },
        (error: Error) => {
          state.value = 'failed'
          onFault(error)
        },
      )
    return last
  }
  return {
    state,
    later(job, change) {
      if (waiting && waiting.job !== job) void sendNow()
      waiting = { job, change: { ...waiting?.change, ...change } }
      state.value = 'waiting'
      clearTimeout(timer)
      timer = setTimeout(() => void sendNow(), rest)
    },
    pending: (job, alsoUnderWay = true) => {
      const own = [alsoUnderWay ? sending : null, waiting].filter((one) => one?.job === job)
      return own.length ? (Object.assign({}, ...own.map((one) => one!.change)) as Change) : null
    },
    flush: sendNow,
  }
}

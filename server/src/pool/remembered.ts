import { createHash } from 'node:crypto'
import { LRUCache } from 'lru-cache'

/** Answers worked out lately, by all that they hang on. */
export interface Remembered<Answer> {
  /**
   * The answer to a question: worked out where it was not asked lately, and once where it is asked twice at a time.
   *
   * @param question all that the answer hangs on, as JSON tells it
   * @param work works it out; its errors are passed on and not remembered
   */
  ask(question: unknown, work: () => Promise<Answer>): Promise<Answer>
}

/**
 * Keeps the answers asked for last. A question is all that its answer hangs on, so that none is ever out of date; answers
 * must not be changed by whoever gets them.
 *
 * @param most answers that are kept
 * @example
 * remembered<number>(8) // then .ask({ job: 'a' }, () => Promise.resolve(4))
 */
export function remembered<Answer>(most: number): Remembered<Answer> {
  const known = new LRUCache<string, { answer: Answer }>({ max: most })
  const underWay = new Map<string, Promise<Answer>>()

  async function workOut(key: string, work: () => Promise<Answer>): Promise<Answer> {
    const going = work()
    underWay.set(key, going)
    try {
      const answer = await going
      known.set(key, { answer })
      return answer
    } finally {
      underWay.delete(key)
    }
  }
  const answers: Remembered<Answer> = {
    async ask(question, work) {
      const key = createHash('sha256').update(JSON.stringify(question)).digest('base64')
      const found = known.get(key)
      if (found) return found.answer
      const going = underWay.get(key)
      if (!going) return workOut(key, work)
      // Whoever asked first may have gone, and the work been called off with them: the next one who waits begins it anew.
      return going.catch(() => answers.ask(question, work))
    },
  }
  return answers
}

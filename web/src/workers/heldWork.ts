import type { QuestionKind } from '@yuzumix/core'
import type { Connected } from './connect'
import type { QuestionWork } from './questionWork'

/** A question that waits for its answer. */
interface Held<Question> {
  kind: QuestionKind
  question: Question
  progress: (share: number) => void
  give: (answer: unknown) => void
  fail: (error: Error) => void
}

/** A worker that answers when the test says so; for tests only. */
export function heldWork<Question>() {
  const asked: Held<Question>[] = []
  const connect = (): Connected<QuestionWork> => ({
    remote: {
      addRun: () => Promise.resolve(),
      answer: (kind: QuestionKind, question: Question, progress: (share: number) => void) =>
        new Promise((give, fail) => asked.push({ kind, question, progress, give, fail })),
    } as unknown as Connected<QuestionWork>['remote'],
    end: () => undefined,
  })
  return { asked, connect }
}

import { answerQuestion, type AnswerOf, type QuestionKind, type QuestionOf, type RunColumns } from '@yuzumix/core'
import { columnStore } from './columnStore'

/** Answers questions on the runs' columns that it was given. */
export function questionWork() {
  const columns = columnStore()
  return {
    addRun: (key: string, run: RunColumns): void => columns.add(key, run),
    answer: <K extends QuestionKind>(
      kind: K,
      question: QuestionOf<K>,
      onProgress?: (share: number) => void,
    ): AnswerOf<K> => answerQuestion(kind, question, columns.columnsOf, onProgress),
  }
}
export type QuestionWork = ReturnType<typeof questionWork>

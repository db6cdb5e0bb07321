import { proxy } from 'comlink'
import { ref, shallowRef, watch, type Ref } from 'vue'
import { QUESTIONS, runsNeeded, type AnswerOf, type QuestionKind, type QuestionOf } from '@yuzumix/core'
import { questionWorker } from './connect'
import { plainCopy, useRunWorker } from './useRunWorker'

/**
 * The answer to a question of the open job, worked out off the interface's thread whenever the question is another; only the
 * newest counts. While a new one is worked out, and where it fails, the last answer stays.
 *
 * @param question null for none: there is no answer then
 */
export function useAnswer<K extends QuestionKind>(
  job: () => string,
  kind: K,
  question: Ref<QuestionOf<K> | null>,
  connect = questionWorker,
) {
  const answer = shallowRef<AnswerOf<K> | null>(null)
  /** share that is done, of what tells it */
  const progress = ref(0)
  const { run, ...work } = useRunWorker(connect, job, QUESTIONS[kind].purpose)
  watch(
    question,
    (now) =>
      run(async ({ send, ask, isWanted }) => {
        if (!now) {
          answer.value = null
          return
        }
        progress.value = 0
        const asked = plainCopy(now)
        await send(runsNeeded(kind, asked))
        const onProgress = proxy((share: number) => void (isWanted() && (progress.value = share)))
        answer.value = await ask((worker) => worker.answer(kind, asked, onProgress) as Promise<AnswerOf<K>>)
      }),
    { immediate: true },
  )
  return { answer, progress, ...work }
}

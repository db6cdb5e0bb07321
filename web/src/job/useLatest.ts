import { shallowRef, watch, type ShallowRef } from 'vue'

/**
 * What was answered last: asked anew when what it hangs on changes. An answer to an older question, that comes late, is dropped,
 * and so is its fault.
 *
 * @param first what there is before anything was answered
 * @param onFault hears of a question that failed; what was answered before stays
 */
export function useLatest<T>(
  first: T,
  hangsOn: () => unknown,
  ask: () => Promise<T>,
  onFault: (error: unknown) => void,
): ShallowRef<T> {
  const answer = shallowRef(first)
  let round = 0
  watch(
    hangsOn,
    async () => {
      const mine = ++round
      try {
        const found = await ask()
        if (mine === round) answer.value = found
      } catch (error) {
        if (mine === round) onFault(error)
      }
    },
    { immediate: true },
  )
  return answer
}

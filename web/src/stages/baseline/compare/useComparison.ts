import { onMounted, onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue'
import type { CompareRequest, Mismatch } from '@yuzumix/core'
import { api, ProblemError, type ComparedAnswer } from '@/api/client'

const REST = 200

/**
 * The comparison that is asked for, from the server, anew whenever the wish changes. What was not measured alike comes
 * back as `refused`, to be accepted or mended.
 */
export function useComparison(job: () => string, wish: Ref<CompareRequest | null>) {
  const compared = shallowRef<ComparedAnswer | null>(null)
  const refused = shallowRef<Mismatch[]>([])
  const problem = ref('')
  const busy = ref(false)
  let round = 0
  let timer: ReturnType<typeof setTimeout> | undefined

  async function ask(): Promise<void> {
    const mine = ++round
    if (!wish.value) {
      ;[compared.value, refused.value, problem.value, busy.value] = [null, [], '', false]
      return
    }
    busy.value = true
    try {
      const answer = await api.compare(job(), wish.value)
      if (mine === round) [compared.value, refused.value, problem.value] = [answer, [], '']
    } catch (error) {
      if (mine !== round) return
      const found = error instanceof ProblemError ? (error.more['refused'] as Mismatch[] | undefined) : undefined
      compared.value = null
      refused.value = found ?? []
      problem.value = found ? '' : (error as Error).message
    } finally {
      if (mine === round) busy.value = false
    }
  }

  watch(wish, () => {
    clearTimeout(timer)
    timer = setTimeout(() => void ask(), REST)
  })
  onMounted(ask)
  onScopeDispose(() => {
    round++
    clearTimeout(timer)
  })
  return { compared, refused, problem, busy }
}

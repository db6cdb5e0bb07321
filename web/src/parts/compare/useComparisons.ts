import { watchDebounced } from '@vueuse/core'
import { onMounted, onScopeDispose, ref, shallowRef, type Ref } from 'vue'
import { isRefusal, type CompareRequest, type Mismatch, type ComparedAnswer } from '@yuzumix/core'
import { api } from '@/api/client'

const REST = 200

/** What came of comparing one set: the comparison, or what was not measured alike, or why there is none. */
export interface Outcome {
  second: string
  compared: ComparedAnswer | null
  /** to be accepted or mended first */
  refused: Mismatch[]
  problem: string
}

/** The comparisons that are asked for, from the server, one for each second set, anew whenever the wishes change. */
export function useComparisons(job: () => string, wishes: Ref<CompareRequest[]>) {
  const outcomes = shallowRef<Outcome[]>([])
  const busy = ref(false)
  let round = 0

  async function askOne(wish: CompareRequest): Promise<Outcome> {
    const { second } = wish
    try {
      return { second, compared: await api.compare(job(), wish), refused: [], problem: '' }
    } catch (error) {
      const refused = isRefusal(error) ? (error.more['refused'] as Mismatch[] | undefined) : undefined
      return { second, compared: null, refused: refused ?? [], problem: refused ? '' : (error as Error).message }
    }
  }
  async function ask(): Promise<void> {
    const mine = ++round
    busy.value = wishes.value.length > 0
    const found = await Promise.all(wishes.value.map(askOne))
    if (mine === round) [outcomes.value, busy.value] = [found, false]
  }

  watchDebounced(wishes, ask, { debounce: REST })
  onMounted(ask)
  onScopeDispose(() => round++)
  return { outcomes, busy }
}

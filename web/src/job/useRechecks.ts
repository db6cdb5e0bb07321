import { onMounted, shallowRef, watch } from 'vue'
import type { Recheck } from '@yuzumix/core'
import { api } from '@/api/client'
import { sayProblem } from '@/api/say'
import { useJob } from './openJob'

/** What has to be measured again because spark or mixture moved since; asked anew as runs or tables change. */
export function useRechecks() {
  const open = useJob()
  const again = shallowRef<Recheck[]>([])
  async function askAgain(): Promise<void> {
    try {
      again.value = await api.rechecks(open.job!.id)
    } catch (error) {
      sayProblem(error)
    }
  }
  onMounted(askAgain)
  watch([() => open.runs, () => open.tables], askAgain)
  return again
}

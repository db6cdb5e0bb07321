import { onMounted, shallowRef } from 'vue'
import type { Job, RunSet } from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'
import { useJob } from '@/job/openJob'

/** Sets of other jobs, to compare machines. */
export function useElsewhere() {
  const open = useJob()
  const elsewhere = shallowRef<{ title: string; sets: RunSet[] }[]>([])
  onMounted(async () => {
    try {
      const [jobs, sets] = await Promise.all([api.jobs(), api.allSets()])
      elsewhere.value = jobs
        .filter((job: Job) => job.id !== open.job!.id)
        .map((job: Job) => ({ title: job.title, sets: sets.filter((set) => set.job === job.id) }))
        .filter((one) => one.sets.length > 0)
    } catch (error) {
      notifyProblem(error)
    }
  })
  return elsewhere
}

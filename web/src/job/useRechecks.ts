import type { Recheck } from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'
import { useJob } from './openJob'
import { useLatest } from './useLatest'

/** What has to be measured again because spark or mixture moved since; asked anew as runs or tables change. */
export function useRechecks() {
  const open = useJob()
  return useLatest<Recheck[]>(
    [],
    () => [open.runs, open.tables],
    () => api.rechecks(open.job!.id),
    notifyProblem,
  )
}

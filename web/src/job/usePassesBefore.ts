import { computed, type Ref } from 'vue'
import { passesBefore, type RunInfo } from '@yuzumix/core'
import { useJob } from './openJob'

/** Runs of the passes before those of a field on the same hardware, oldest first: what a loop held then is remembered. */
export function usePassesBefore(runs: Ref<readonly RunInfo[]>) {
  const open = useJob()
  return computed<RunInfo[][]>((before) => {
    if (!open.job) return []
    const { sets, runs: all, fuelTables: tables } = open
    const now = passesBefore(runs.value, { mixture: open.job.mixture, sets, runs: all, tables })
    const isSame =
      before?.length === now.length &&
      now.every((pass, k) => pass.length === before[k]!.length && pass.every((run, n) => run === before[k]![n]))
    // The same passes again must not set off another solve.
    return isSame ? before! : now
  })
}

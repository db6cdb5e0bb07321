import { shallowRef, watch, type Ref } from 'vue'
import type { Field, FieldOptions, RunInfo, TableSince } from '@yuzumix/core'
import type { AskedRun } from './columnStore'
import { fieldWorker } from './connect'
import { plainCopy, useRunWorker } from './useRunWorker'

/**
 * The field of each pass of the guided loop, oldest first, solved anew when runs or options change: what a pass shows bears
 * on the passes after it.
 */
export function usePassFields(
  job: () => string,
  passes: Ref<RunInfo[][]>,
  options: Ref<FieldOptions | null>,
  corrected: Ref<TableSince[][] | null>,
  connect = fieldWorker,
) {
  const fields = shallowRef<Field[]>([])
  const work = useRunWorker(connect, job, 'field')
  watch(
    [passes, options, corrected],
    () =>
      work.run(async ({ send, ask }) => {
        const [chosen, before] = [options.value, corrected.value]
        if (!chosen || !before) {
          fields.value = []
          return
        }
        const asked: AskedRun[][] = []
        for (const runs of passes.value) asked.push(await send(runs))
        fields.value = await ask((worker) => worker.passes(asked, plainCopy(chosen), plainCopy(before)))
      }),
    { immediate: true },
  )
  const { problem, busy, slow, cancel } = work
  return { fields, problem, busy, slow, cancel }
}

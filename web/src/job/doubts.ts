import { defineStore } from 'pinia'
import { ref, shallowRef, watch } from 'vue'
import type { DoubtAnswer } from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'
import { useIntake } from './intake'
import { useJob } from './openJob'

type Offer = NonNullable<DoubtAnswer['offer']>

/**
 * What of the open job's readings is not to be believed before it is cleared: asked anew whenever runs, tables or the machine
 * change. What is new after runs came in opens by itself.
 */
export const useDoubts = defineStore('doubts', () => {
  const open = useJob()
  const intake = useIntake()
  const list = shallowRef<DoubtAnswer[]>([])
  const isShown = ref(false)
  let asked = 0
  let runsBefore = { job: '', count: 0 }

  async function ask(): Promise<void> {
    // While files come in they change with each of them.
    if (intake.files.length) return
    const id = open.job?.id
    const mine = ++asked
    if (!id || open.state !== 'ready') {
      list.value = []
      return
    }
    try {
      const found = open.runs.length ? await api.doubts(id) : []
      if (mine !== asked) return
      const cameIn = runsBefore.job === id && open.runs.length > runsBefore.count
      const known = new Set(list.value.map((one) => one.text))
      if (cameIn && found.some((one) => !known.has(one.text))) isShown.value = true
      if (found.length === 0) isShown.value = false
      list.value = found
      runsBefore = { job: id, count: open.runs.length }
    } catch (error) {
      if (mine === asked) notifyProblem(error)
    }
  }
  watch(
    () =>
      [
        open.state,
        open.job?.id,
        open.job?.machine,
        open.job?.limits,
        open.setOfField,
        open.runs,
        open.tables,
        open.job?.mixture.runsLeftOut,
        intake.files,
      ] as const,
    ask,
    { immediate: true },
  )

  /** Reads some runs as was offered; their columns and all that is made of them follow. */
  async function read(runs: readonly string[], readAs: Offer['readAs'] | null): Promise<void> {
    try {
      await api.readAs(open.job!.id, { runs: [...runs], readAs })
      await open.reloadRuns()
    } catch (error) {
      notifyProblem(error)
    }
  }
  return { list, isShown, read }
})

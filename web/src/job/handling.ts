import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import {
  openPutBacks,
  type Complaint,
  type ComplaintChange,
  type Entry,
  type JobPart,
  type NewComplaint,
  type NewPutBack,
  type PutBack,
  type PutBackChange,
} from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'
import { keepSame } from './keepSame'
import { useJob } from './openJob'

/**
 * What goes with the open job from taking in to handing over: the rider's complaints, the put-back ledger and the logbook.
 * The one owner of that state; an answer that comes when another job is open is dropped.
 */
export const useHandling = defineStore('handling', () => {
  const open = useJob()
  const complaints = shallowRef<Complaint[]>([])
  const putBack = shallowRef<PutBack[]>([])
  const entries = shallowRef<Entry[]>([])
  const openCount = computed(() => openPutBacks(putBack.value).length)
  const isDone = computed(() => Boolean(open.job?.doneAt))

  let round = 0
  const reload = async (id: string): Promise<void> => {
    const mine = ++round
    const [pins, lines, book] = await Promise.all([api.complaints(id), api.putBack(id), api.entries(id)])
    // An answer to an older question knows less.
    if (open.job?.id !== id || mine !== round) return
    complaints.value = keepSame(complaints.value, pins)
    putBack.value = keepSame(putBack.value, lines)
    entries.value = keepSame(entries.value, book)
  }
  watch(
    () => open.job?.id,
    (id) => {
      ;[complaints.value, putBack.value, entries.value] = [[], [], []]
      if (id) reload(id).catch(notifyProblem)
    },
    { immediate: true },
  )

  /** counts changes of parts that are not held here, for whoever shows them */
  const heard = ref({ job: 0, handling: 0, reports: 0, training: 0, bench: 0 })
  /** Takes up what changed, here or elsewhere. */
  async function hear(parts: readonly JobPart[]): Promise<void> {
    for (const part of parts) if (part in heard.value) heard.value[part as keyof typeof heard.value]++
    if (open.job && (parts.includes('handling') || parts.includes('entries'))) await reload(open.job.id)
  }

  /** Does an act on the open job, then asks anew what it changed; a problem is said and nothing changes. */
  async function act<T>(work: (id: string) => Promise<T>): Promise<T | null> {
    const id = open.job!.id
    try {
      const result = await work(id)
      await reload(id)
      return result
    } catch (error) {
      notifyProblem(error)
      return null
    }
  }
  return {
    complaints,
    putBack,
    entries,
    openCount,
    isDone,
    reload,
    heard,
    hear,
    act,
    pin: (complaint: NewComplaint) => act((id) => api.addComplaint(id, complaint)),
    answer: (complaint: string, change: ComplaintChange) => act((id) => api.changeComplaint(id, complaint, change)),
    unpin: (complaint: string) => act((id) => api.deleteComplaint(id, complaint)),
    note: (line: NewPutBack) => act((id) => api.notePutBack(id, line)),
    settle: (line: string, change: PutBackChange) => act((id) => api.settlePutBack(id, line, change)),
  }
})

import { ref, type Ref } from 'vue'
import { asksForReason, isRefusal, rangeFault, type RunInfo, type TableInfo } from '@yuzumix/core'
import { counted } from '@/parts/numbers/format'
import { api } from '@/api/client'
import { notifyDone, notifyProblem } from '@/api/notify'
import { useJob } from '@/job/openJob'
import type { useWorkingTable } from './useWorkingTable'

/**
 * What is worked on becomes a revision: the reason is asked, and where the server calls a step large, why it is taken.
 *
 * @param runs that the revision rests on
 */
export function useSavedRevision(
  info: Ref<TableInfo | null>,
  working: ReturnType<typeof useWorkingTable>,
  runs: Ref<readonly RunInfo[]>,
) {
  const open = useJob()
  const saving = ref(false)
  const reason = ref('')
  /** why a large step is taken all the same */
  const override = ref('')
  const busy = ref(false)
  /** what is too far in it, in words, as the server judges it; null while that is being asked */
  const large = ref<string | null>('')
  /** the reason that was filled in last */
  let filled = ''
  /** What was done, as far as the desk knows it: nothing else is filled in. */
  function usualReason(): string {
    const { takenCount, editedCount } = working
    const byHand = editedCount.value - takenCount.value
    const taken = takenCount.value ? `Corrected from ${counted(runs.value.length, 'run')}` : ''
    if (byHand === 0) return taken || 'Global trim changed'
    return taken ? `${taken}; ${counted(byHand, 'cell')} by hand` : `${counted(byHand, 'cell')} set by hand`
  }
  const asked = () => ({
    values: working.values.value,
    global: working.global.value,
    parent: working.parent.value,
    reason: reason.value.trim() || '-',
  })

  function askReason(): void {
    if (!working.isEdited.value || !info.value) return
    const outside = rangeFault(info.value.table.kind, working.values.value)
    if (outside) return notifyProblem(new Error(`${outside} Mend it, then save.`))
    // What was filled in before and not touched is told anew: what it said may no longer be so.
    if (!reason.value.trim() || reason.value === filled) reason.value = filled = usualReason()
    saving.value = true
    large.value = null
    api.checkRevision(open.job!.id, info.value.id, asked()).then(
      ({ text }) => (large.value = text),
      (error: Error) => {
        saving.value = false
        void sayOrJoin(error)
      },
    )
  }
  /** Another window saved meanwhile: what it saved is fetched, and one's own cells lie on top of it. */
  async function sayOrJoin(error: unknown): Promise<void> {
    const isStale = isRefusal(error, 'stale-revision')
    if (!isStale) return notifyProblem(error)
    saving.value = false
    await open.reloadTables().catch(notifyProblem)
  }
  async function save(): Promise<void> {
    if (!info.value || !reason.value.trim()) return
    busy.value = true
    try {
      const saved = await api.addRevision(open.job!.id, info.value.id, {
        ...asked(),
        // Only what was taken of the suggestion rests on runs.
        runs: working.takenCount.value > 0 ? runs.value.map((run) => run.id) : [],
        ...(large.value && { override: override.value.trim() }),
      })
      open.putTable(saved)
      ;[saving.value, reason.value, override.value] = [false, '', '']
      notifyDone(`Revision ${saved.revisions.at(-1)!.n} is saved.`)
    } catch (error) {
      // Something else may have been measured meanwhile.
      const isLarge = isRefusal(error) && asksForReason(error)
      if (isLarge) large.value = error.message
      else await sayOrJoin(error)
    } finally {
      busy.value = false
    }
  }
  return { saving, reason, override, busy, large, askReason, save }
}

import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import {
  keepSame,
  rangeFault,
  sameGrid,
  tableDigits,
  TableError,
  type RunInfo,
  type Selection,
  type Table,
  type TableInfo,
} from '@yuzumix/core'
import { counted, plain } from '@/parts/numbers/format'
import { api, ProblemError } from '@/api/client'
import { sayDone, sayProblem } from '@/api/say'
import { useJob } from '@/job/openJob'
import { useWorkingTable } from './useWorkingTable'

const AT_FIRST: Selection = { row0: 0, column0: 0, row1: 0, column1: 0 }

/**
 * One table of several on the desk: what is worked on, its revisions, files in and out.
 *
 * @param tables that can be chosen; @param what kind of table a file must hold
 * @param runs that a revision rests on
 */
export function useTableDesk(tables: Ref<TableInfo[]>, what: 'fuel' | 'spark', runs: Ref<readonly RunInfo[]>) {
  const open = useJob()
  const tableId = ref(tables.value[0]?.id ?? '')
  const info = computed(() => tables.value.find((one) => one.id === tableId.value) ?? tables.value[0] ?? null)
  const grid = computed(
    () => info.value && { loadAxis: info.value.table.loadAxis, rpm: info.value.table.rpm, load: info.value.table.load },
  )
  const working = useWorkingTable(info)
  const selection = ref<Selection>({ ...AT_FIRST })
  watch(tableId, () => (selection.value = { ...AT_FIRST }))

  const compared = ref<[number, number] | null>(null)
  const pair = shallowRef<[Table, Table] | null>(null)
  // Two revisions of one table are no difference of another.
  watch(tableId, () => (compared.value = null), { flush: 'sync' })
  watch(compared, async (now) => {
    pair.value = null
    const table = info.value
    if (!now || !table) return
    try {
      const both = await Promise.all(now.map((n) => api.revision(table.job, table.id, n)))
      // Another table, or another pair, may be asked for by now.
      if (compared.value === now && info.value?.id === table.id) pair.value = [both[0]!.table, both[1]!.table]
    } catch (error) {
      sayProblem(error)
    }
  })

  // Said in the header as long as it is so, at whatever stage one is.
  watch([info, working.isEdited], ([now, isEdited]) => {
    if (now) open.notSaved(`table ${now.id}`, isEdited ? `${now.name} not saved` : '')
  })

  const adding = ref(false)
  const fromFile = shallowRef<Table | null>(null)
  const saving = ref(false)
  const reason = ref('')
  /** why a large step is taken all the same */
  const override = ref('')
  const busy = ref(false)
  const nextRevision = computed(() => working.parent.value + 1)
  /** what is too far in it, in words, as the server judges it; null while that is being asked */
  const large = ref<string | null>('')
  /** what was done last, said under the table */
  const note = ref('')
  watch([tableId, working.parent], () => (note.value = ''))
  const digits = computed(() => (info.value ? tableDigits(info.value.table) : 1))
  const shown = (value: number): string => plain(value, digits.value)
  const asked = () => ({
    values: working.values.value,
    global: working.global.value,
    parent: working.parent.value,
    reason: reason.value.trim() || '-',
  })

  function askReason(): void {
    if (!working.isEdited.value || !info.value) return
    const outside = rangeFault(info.value.table.kind, working.values.value)
    if (outside) return sayProblem(new Error(`${outside} Mend it, then save.`))
    reason.value ||= `Corrected from ${counted(runs.value.length, 'run')}`
    saving.value = true
    large.value = null
    api.checkRevision(open.job!.id, info.value.id, asked()).then(
      ({ text }) => (large.value = text),
      (error: Error) => {
        saving.value = false
        sayProblem(error)
      },
    )
  }
  async function save(): Promise<void> {
    if (!info.value || !reason.value.trim()) return
    busy.value = true
    try {
      const saved = await api.addRevision(open.job!.id, info.value.id, {
        ...asked(),
        runs: runs.value.map((run) => run.id),
        ...(large.value && { override: override.value.trim() }),
      })
      open.putTable(saved)
      ;[saving.value, reason.value, override.value] = [false, '', '']
      sayDone(`Revision ${saved.revisions.at(-1)!.n} is saved.`)
    } catch (error) {
      // Something else may have been measured meanwhile.
      const isLarge = error instanceof ProblemError && error.faults.some((one) => one.field === 'override')
      if (isLarge) large.value = error.message
      else sayProblem(error)
    } finally {
      busy.value = false
    }
  }
  async function goBack(n: number): Promise<void> {
    try {
      const { table } = await api.revision(open.job!.id, info.value!.id, n)
      working.edit(table.values)
      ;[compared.value, reason.value] = [null, `Back to revision ${n}`]
      sayDone(`The values of revision ${n} are in the table. Save them as revision ${nextRevision.value}, or undo.`)
    } catch (error) {
      sayProblem(error)
    }
  }
  async function readFile(file: File): Promise<void> {
    try {
      const table = await api.readTable(file)
      const mine = info.value?.table
      if (mine && table.kind === mine.kind && sameGrid(table, mine)) {
        working.edit(keepSame(table.values, mine.values))
        reason.value = `Read from ${file.name}`
        sayDone('The values of the file are in the table. Save them as a revision, or undo.')
        return
      }
      if (!table.kind.startsWith(what))
        throw new TableError(`The file holds a ${table.kind} table; a ${what} table is needed here.`)
      fromFile.value = table
      adding.value = true
    } catch (error) {
      sayProblem(error)
    }
  }
  function newTable(): void {
    fromFile.value = null
    adding.value = true
  }
  return {
    tables,
    what,
    tableId,
    info,
    grid,
    working,
    selection,
    compared,
    pair,
    adding,
    fromFile,
    saving,
    reason,
    override,
    busy,
    large,
    note,
    shown,
    nextRevision,
    askReason,
    save,
    goBack,
    readFile,
    newTable,
  }
}

export type TableDesk = ReturnType<typeof useTableDesk>

import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import {
  isRefusal,
  refused,
  keepSame,
  sameGrid,
  cellDigits,
  tableDigits,
  type RunInfo,
  type Selection,
  type Table,
  type TableInfo,
  type TableSaid,
  kindOfTable,
} from '@yuzumix/core'
import { plain } from '@/parts/numbers/format'
import { api, formOf } from '@/api/client'
import { notifyDone, notifyProblem, notifyRefused } from '@/api/notify'
import { useJob } from '@/job/openJob'
import { useComparedRevisions } from './useComparedRevisions'
import { useSavedRevision } from './useSavedRevision'
import { useWorkingTable } from './useWorkingTable'

/** What kind of table a desk begins with. */
export type DeskKind = 'fuel' | 'spark' | 'plate'

const AT_FIRST: Selection = { row0: 0, column0: 0, row1: 0, column1: 0 }

/**
 * One table of several on the desk: what is worked on, its revisions, files in and out.
 *
 * @param tables that can be chosen; @param what kind of table a file must hold
 * @param runs that a revision rests on
 */
export function useTableDesk(tables: Ref<TableInfo[]>, what: DeskKind, runs: Ref<readonly RunInfo[]>) {
  const open = useJob()
  const tableId = ref(tables.value[0]?.id ?? '')
  const info = computed(() => tables.value.find((one) => one.id === tableId.value) ?? tables.value[0] ?? null)
  const grid = computed(
    () => info.value && { loadAxis: info.value.table.loadAxis, rpm: info.value.table.rpm, load: info.value.table.load },
  )
  const working = useWorkingTable(info)
  const selection = ref<Selection>({ ...AT_FIRST })
  watch(tableId, () => (selection.value = { ...AT_FIRST }))

  // Said in the header as long as it is so, at whatever stage one is.
  watch([info, working.isEdited], ([now, isEdited]) => {
    if (now) open.notSaved(`table ${now.id}`, isEdited ? `${now.name} not saved` : '')
  })

  const { compared, pair } = useComparedRevisions(info)
  const saver = useSavedRevision(info, working, runs)
  const adding = ref(false)
  const fromFile = shallowRef<Table | null>(null)
  const nextRevision = computed(() => working.parent.value + 1)
  /** what was done last, said under the table */
  const note = ref('')
  watch([tableId, working.parent], () => (note.value = ''))
  const digits = computed(() => (info.value ? tableDigits(info.value.table) : 1))
  const shown = (value: number): string =>
    plain(value, info.value ? cellDigits(info.value.table.kind, digits.value, value) : digits.value)
  async function goBack(n: number): Promise<void> {
    try {
      const { table } = await api.revision(open.job!.id, info.value!.id, n)
      working.edit(table.values)
      ;[compared.value, saver.reason.value] = [null, `Back to revision ${n}`]
      notifyDone(`The values of revision ${n} are in the table. Save them as revision ${nextRevision.value}, or undo.`)
    } catch (error) {
      notifyProblem(error)
    }
  }
  /** a file that does not say what kind of table it holds: asked */
  const unsaid = shallowRef<File | null>(null)
  async function readFile(file: File, said: TableSaid = {}): Promise<void> {
    unsaid.value = null
    try {
      const table = await api.readTable(formOf({ ...said, file }))
      const mine = info.value?.table
      if (mine && table.kind === mine.kind && sameGrid(table, mine)) {
        working.edit(keepSame(table.values, mine.values))
        saver.reason.value = `Read from ${file.name}`
        notifyDone('The values of the file are in the table. Save them as a revision, or undo.')
        return
      }
      if (kindOfTable(table.kind).sets !== what)
        throw refused('no-table', `The file holds a ${table.kind} table; a ${what} table is needed here.`, 'table')
      fromFile.value = table
      adding.value = true
    } catch (error) {
      if (isRefusal(error) && error.faults.some(({ field }) => field === 'kind') && !said.kind) unsaid.value = file
      else notifyRefused(error)
    }
  }
  function newTable(): void {
    fromFile.value = null
    adding.value = true
  }
  return {
    ...saver,
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
    note,
    shown,
    nextRevision,
    goBack,
    unsaid,
    readFile,
    newTable,
  }
}

export type TableDesk = ReturnType<typeof useTableDesk>

import { computed } from 'vue'
import { workingTable, type TableInfo, type BenchState } from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import type { Bench } from './useBench'

/** Values that differ by less are the same cell. */
const SAME = 1e-9

/** A table in the controller beside the job's own for it. */
export interface ControllerRow {
  id: string
  name: string
  unkept: boolean
  inside: BenchState['tables'][number]
  /** the job's table, and how many cells of its latest revision differ; null where the job has none */
  own: { info: TableInfo; revision: number; differ: number } | null
}

/** The controller's tables with those of the job that fit them. */
export function useControllerRows(bench: Bench) {
  const open = useJob()
  return computed<ControllerRow[]>(() =>
    (bench.state.value?.tables ?? []).map((inside) => {
      const { id, name, table } = inside
      const info = workingTable(open.tables, inside)
      const differ = info
        ? info.table.values.reduce(
            (sum, row, r) => sum + row.filter((value, k) => Math.abs(value - table.values[r]![k]!) > SAME).length,
            0,
          )
        : 0
      return {
        id,
        name,
        inside,
        unkept: bench.unkept.value.includes(id),
        own: info ? { info, revision: info.revisions.at(-1)!.n, differ } : null,
      }
    }),
  )
}

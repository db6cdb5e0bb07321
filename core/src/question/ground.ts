import type { Complaint } from '../contract/complaint'
import type { Job } from '../contract/job'
import type { RunInfo } from '../run/runInfo'
import type { RunSet } from '../contract/set'
import type { TableInfo } from '../contract/table'
import type { RunColumns } from '../run/run'
import type { TableHistory } from '../change/history'
import type { Table } from '../table/table'

/** What every question of a job stands on, as it is stored: its facts and its lists, without columns and older states. */
export interface JobGround {
  job: Job
  /** oldest first */
  sets: readonly RunSet[]
  /** in the order in which they came */
  runs: readonly RunInfo[]
  tables: readonly TableInfo[]
  complaints: readonly Complaint[]
}

/** Brings what a job's lists do not hold; the page asks the interface for it, the server its store. */
export interface Loader {
  /** A state of a table; null when there is none. It never changes. */
  revision(job: string, table: string, n: number): Promise<Table | null>
  /** Tables of a job with their states from a time on, as `GET /jobs/{job}/tables/histories` tells them. */
  histories(job: string, since: string): Promise<TableHistory[]>
}

/** Gives the columns of the runs that a question names, in their order; those that are not at hand are left out. */
export type ColumnsOf = (runs: readonly RunInfo[]) => RunColumns[]

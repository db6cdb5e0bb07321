import { DEFAULT_TARGET } from '../field/target'
import { DEFAULT_FILTERS, type SetAside } from '../run/run'
import type { RunKind } from '../run/runKind'
import type { CylinderField } from '../field/field'
import type { Table } from '../table/table'
import type { SensorPlace } from '../run/run'
import type { RunFacts } from '../run/facts'
import type { SparkSetting } from '../spark/setting'
import type { MixtureSettings, NewJob } from './schemas'
import type { LeftOut, PowerSettings, SetFacts } from './setSchemas'

/** One machine in for one piece of work, as the HTTP interface tells it. */
export interface Job extends Omit<NewJob, 'gaugeScale' | 'mixture' | 'power'> {
  id: string
  gaugeScale: number
  mixture: MixtureSettings
  power: PowerSettings
  archived: boolean
  createdAt: string
  runCount: number
  tableCount: number
}

export interface ChannelInfo {
  channel: string
  unit: string
  count: number
  min: number
  max: number
}

/** One recording. */
export interface RunInfo {
  id: string
  job: string
  name: string
  kind: RunKind
  samples: number
  /** s */
  duration: number
  channels: ChannelInfo[]
  warnings: string[]
  /** AFR at lambda 1 of the gauge, where the log held AFR; null where it held lambda */
  gaugeScale: number | null
  /** set it belongs to, and where that set's sensor sat */
  set: string
  sensorPlace: SensorPlace | null
  /** what it is, as far as its columns tell */
  facts: RunFacts | null
  /** what somebody left out of it; null for nothing */
  leftOut: LeftOut | null
  /** one setting of the spark that all of it was made at, as somebody said it; null where nobody did */
  setting: SparkSetting | null
  /** revision by table that was in force while it was made */
  revisions: Record<string, number>
  createdAt: string
}

/** Runs that were made in one state of the machine, and how they were measured. */
export interface RunSet extends SetFacts {
  id: string
  job: string
  name: string
  runCount: number
  createdAt: string
}

/** An immutable saved state of a table. */
export interface RevisionInfo {
  n: number
  parent: number | null
  reason: string
  /** why a large step was taken all the same; null where there was none */
  override: string | null
  runs: string[]
  createdAt: string
}

export interface TableInfo {
  id: string
  job: string
  name: string
  /** Cylinder it serves; null when it serves all */
  cylinder: number | null
  /** The latest revision's values */
  table: Table
  revisions: RevisionInfo[]
}

/** A dated line in the job's logbook. */
export interface Entry {
  id: string
  at: string
  act: string
  text: string
}

/** Answer of POST /jobs/:job/field. */
export interface FieldAnswer {
  rpm: number[]
  load: number[]
  loadAxis: 'throttle' | 'manifold'
  method: 'solve' | 'nearest'
  lagMs: number
  lag: { from: string; errorMs: number | null; note: string }
  cylinders: Omit<CylinderField, 'noise'>[]
  heldZones: { load: number; fromRpm: number; toRpm: number }[]
  runs: {
    id: string
    used: number
    setAside: SetAside
    odd: { fromRpm: number; toRpm: number; departurePct: number } | null
  }[]
}

/** What a job starts with. */
export const DEFAULT_MIXTURE: MixtureSettings = {
  target: DEFAULT_TARGET,
  lagMs: null,
  filters: DEFAULT_FILTERS,
  leaveOutOdd: true,
  runsLeftOut: [],
  set: null,
  breakpoints: null,
}

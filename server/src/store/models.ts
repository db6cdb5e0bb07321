import type { RigMemory } from '../rigs/rigMemory'
import { DataTypes, type Model, type ModelStatic, type Sequelize } from 'sequelize'
import type {
  Diagnosis,
  Flatness,
  InForce,
  Report,
  RunInfo,
  SetFacts,
  Shelf,
  UnsafeStep,
  WayTaken,
} from '@yuzumix/core'
import { runFields } from '@yuzumix/core'

/** Rows as they lie in the database; JSON columns come parsed. */
export interface JobRow {
  id: string
  title: string
  data: Record<string, unknown>
  archived: boolean
  createdAt: string
  deletedAt: string | null
}
export interface RunRow extends Omit<RunInfo, 'job' | 'set' | 'channels' | 'sensorPlace'> {
  jobId: string
  setId: string
  digest: string
  removed: boolean
  position: number
}
export interface SetRow {
  id: string
  jobId: string
  name: string
  data: Partial<SetFacts>
  position: number
  createdAt: string
}
interface ChannelRow {
  runId: string
  position: number
  channel: string
  unit: string
  count: number
  min: number
  max: number
  header: string | null
  guessed: boolean | null
  data: Buffer
}
export interface TableRow {
  id: string
  jobId: string
  name: string
  cylinder: number | null
  kind: string
  composition: string
  loadAxis: string
  rpm: number[]
  load: number[]
  position: number
  removed: boolean
  inForce: InForce | null
}
export interface RevisionRow {
  tableId: string
  n: number
  parent: number | null
  reason: string
  override: string | null
  global: number
  runs: string[]
  cells: number[][]
  createdAt: string
  /** the way that it put in; null for a table of its own */
  way: WayTaken | null
}
interface EntryRow {
  id: string
  jobId: string
  at: string
  act: string
  text: string
  kind: 'act' | 'note'
  run: string | null
  rpm: number | null
  load: number | null
  /** media type of its photo */
  photo: string | null
}
interface PhotoRow {
  entryId: string
  data: Buffer
}
/** What a line of a job is. */
export type LineKind = 'complaint' | 'rig' | 'put-back' | 'pass'
interface LineRow {
  jobId: string
  kind: LineKind
  id: string
  position: number
  at: string
  data: Record<string, unknown>
}
interface ShelfRow {
  id: string
  name: string
  at: string
  data: Omit<Shelf, 'id' | 'name' | 'at'>
}
interface ReportRow {
  jobId: string
  n: number
  at: string
  data: Report
}
interface MappingRow {
  signature: string
  mapping: Record<string, unknown>
  updatedAt: string
}

interface RigRow {
  jobId: string
  machine: string
  memory: RigMemory
}
/** How far somebody has come with a case of the trainer. */
export interface TrainingData {
  acts: string[]
  unsafe: UnsafeStep[]
  /** s on the rig's clock in sessions before this one */
  seconds: number
  /** the answer given at the end, runs used and how flat the machine was in truth; null until then */
  finished: {
    diagnosis: Diagnosis
    at: string
    runs: number
    after: Flatness
    /** which of the case's looks were done; absent in cases finished before that was asked */
    looked?: boolean[]
  } | null
}
export interface TrainingRow {
  jobId: string
  caseId: string
  data: TrainingData
  createdAt: string
}

export interface Models {
  jobs: ModelStatic<Model<JobRow>>
  sets: ModelStatic<Model<SetRow>>
  runs: ModelStatic<Model<RunRow>>
  channels: ModelStatic<Model<ChannelRow>>
  tables: ModelStatic<Model<TableRow>>
  revisions: ModelStatic<Model<RevisionRow>>
  entries: ModelStatic<Model<EntryRow>>
  photos: ModelStatic<Model<PhotoRow>>
  lines: ModelStatic<Model<LineRow>>
  shelf: ModelStatic<Model<ShelfRow>>
  reports: ModelStatic<Model<ReportRow>>
  mappings: ModelStatic<Model<MappingRow>>
  rigs: ModelStatic<Model<RigRow>>
  trainings: ModelStatic<Model<TrainingRow>>
}

/** A fresh object each time: Sequelize writes into what it is given. */
const key = () => ({ type: DataTypes.STRING, primaryKey: true })
const { STRING, INTEGER, FLOAT, BOOLEAN, JSON: JSON_TEXT, BLOB } = DataTypes

/** Columns for the members of a resource: text, numbers, and JSON for all else. */
function columnsOf(fields: Record<string, { type: string }>): Record<string, typeof STRING> {
  const kinds: Record<string, unknown> = { string: STRING, number: FLOAT }
  return Object.fromEntries(Object.entries(fields).map(([name, { type }]) => [name, kinds[type] ?? JSON_TEXT])) as never
}

/** The models over the tables that the migrations make. */
export function defineModels(sequelize: Sequelize): Models {
  const define = <Row extends object>(
    name: string,
    columns: Parameters<Sequelize['define']>[1],
  ): ModelStatic<Model<Row>> =>
    sequelize.define<Model<Row>>(name, columns as never, { tableName: name, timestamps: false })
  return {
    jobs: define<JobRow>('jobs', {
      id: key(),
      title: STRING,
      data: JSON_TEXT,
      archived: BOOLEAN,
      createdAt: STRING,
      deletedAt: STRING,
    }),
    sets: define<SetRow>('sets', {
      id: key(),
      jobId: STRING,
      name: STRING,
      data: JSON_TEXT,
      position: INTEGER,
      createdAt: STRING,
    }),
    runs: define<RunRow>('runs', {
      ...columnsOf(runFields),
      id: key(),
      jobId: STRING,
      setId: STRING,
      digest: STRING,
      removed: BOOLEAN,
      facts: JSON_TEXT,
      position: INTEGER,
    }),
    channels: define<ChannelRow>('channels', {
      runId: key(),
      channel: key(),
      position: INTEGER,
      unit: STRING,
      count: INTEGER,
      min: FLOAT,
      max: FLOAT,
      header: STRING,
      guessed: BOOLEAN,
      data: BLOB,
    }),
    tables: define<TableRow>('tables', {
      id: key(),
      jobId: STRING,
      name: STRING,
      cylinder: INTEGER,
      kind: STRING,
      composition: STRING,
      loadAxis: STRING,
      rpm: JSON_TEXT,
      load: JSON_TEXT,
      position: INTEGER,
      removed: BOOLEAN,
      inForce: JSON_TEXT,
    }),
    revisions: define<RevisionRow>('revisions', {
      tableId: key(),
      n: { type: INTEGER, primaryKey: true },
      parent: INTEGER,
      reason: STRING,
      override: STRING,
      global: FLOAT,
      runs: JSON_TEXT,
      cells: JSON_TEXT,
      createdAt: STRING,
      way: JSON_TEXT,
    }),
    entries: define<EntryRow>('entries', {
      id: key(),
      jobId: STRING,
      at: STRING,
      act: STRING,
      text: STRING,
      kind: STRING,
      run: STRING,
      rpm: FLOAT,
      load: FLOAT,
      photo: STRING,
    }),
    photos: define<PhotoRow>('photos', { entryId: key(), data: BLOB }),
    lines: define<LineRow>('lines', {
      jobId: key(),
      kind: key(),
      id: key(),
      position: INTEGER,
      at: STRING,
      data: JSON_TEXT,
    }),
    shelf: define<ShelfRow>('shelf', { id: key(), name: STRING, at: STRING, data: JSON_TEXT }),
    reports: define<ReportRow>('reports', {
      jobId: key(),
      n: { type: INTEGER, primaryKey: true },
      at: STRING,
      data: JSON_TEXT,
    }),
    mappings: define<MappingRow>('mappings', { signature: key(), mapping: JSON_TEXT, updatedAt: STRING }),
    rigs: define<RigRow>('rigs', { jobId: key(), machine: key(), memory: JSON_TEXT }),
    trainings: define<TrainingRow>('trainings', { jobId: key(), caseId: STRING, data: JSON_TEXT, createdAt: STRING }),
  }
}

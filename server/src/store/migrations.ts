import { QueryTypes, type Sequelize, type Transaction } from 'sequelize'
import type { UmzugStorage } from 'umzug'
import { tellMissingFacts } from './missingFacts'

/** One change of the schema. */
export interface Migration {
  name: string
  up(sequelize: Sequelize, transaction: Transaction): Promise<void>
}

const statements =
  (...sql: string[]): Migration['up'] =>
  async (sequelize, transaction) => {
    for (const one of sql) await sequelize.query(one, { transaction })
  }

/** Table of the migrations that were applied. */
const MARKS = 'SequelizeMeta'

/** Changes the schema and marks it changed in one transaction: a kill between the two would brick the store for ever. */
export async function applyMigration(sequelize: Sequelize, { name, up }: Migration): Promise<void> {
  await sequelize.transaction(async (transaction) => {
    await up(sequelize, transaction)
    await sequelize.query(`INSERT INTO ${MARKS} (name) VALUES (?)`, { replacements: [name], transaction })
  })
}

/** The marks, for umzug to read; they are written by `applyMigration`. */
export function markedMigrations(sequelize: Sequelize): UmzugStorage {
  return {
    async executed() {
      await sequelize.query(`CREATE TABLE IF NOT EXISTS ${MARKS} (name VARCHAR(255) NOT NULL UNIQUE PRIMARY KEY)`)
      const rows = await sequelize.query<{ name: string }>(`SELECT name FROM ${MARKS} ORDER BY name`, {
        type: QueryTypes.SELECT,
      })
      return rows.map((row) => row.name)
    },
    logMigration: () => Promise.resolve(),
    unlogMigration: () => Promise.reject(new Error('Migrations are never taken back.')),
  }
}

/** Every change of the schema, in order. A migration that has shipped is never edited. */
export const migrations: readonly Migration[] = [
  {
    name: '0001-first',
    up: statements(
      `CREATE TABLE jobs (id TEXT PRIMARY KEY, title TEXT NOT NULL, data JSON NOT NULL, archived INTEGER NOT NULL DEFAULT 0, createdAt TEXT NOT NULL)`,
      `CREATE TABLE runs (id TEXT PRIMARY KEY, jobId TEXT NOT NULL REFERENCES jobs(id) ON DELETE CASCADE, name TEXT NOT NULL, kind TEXT NOT NULL,
        samples INTEGER NOT NULL, duration REAL NOT NULL, warnings JSON NOT NULL, gaugeScale REAL, digest TEXT NOT NULL, removed INTEGER NOT NULL DEFAULT 0,
        position INTEGER NOT NULL, createdAt TEXT NOT NULL)`,
      `CREATE INDEX runs_by_job ON runs(jobId, position)`,
      `CREATE TABLE channels (runId TEXT NOT NULL REFERENCES runs(id) ON DELETE CASCADE, position INTEGER NOT NULL, channel TEXT NOT NULL, unit TEXT NOT NULL,
        count INTEGER NOT NULL, min REAL NOT NULL, max REAL NOT NULL, data BLOB NOT NULL, PRIMARY KEY (runId, channel))`,
      `CREATE TABLE tables (id TEXT PRIMARY KEY, jobId TEXT NOT NULL REFERENCES jobs(id) ON DELETE CASCADE, name TEXT NOT NULL, cylinder INTEGER,
        kind TEXT NOT NULL, composition TEXT NOT NULL, loadAxis TEXT NOT NULL, rpm JSON NOT NULL, load JSON NOT NULL, position INTEGER NOT NULL)`,
      `CREATE TABLE revisions (tableId TEXT NOT NULL REFERENCES tables(id) ON DELETE CASCADE, n INTEGER NOT NULL, parent INTEGER, reason TEXT NOT NULL,
        runs JSON NOT NULL, cells JSON NOT NULL, createdAt TEXT NOT NULL, PRIMARY KEY (tableId, n))`,
      `CREATE TRIGGER revisions_are_immutable BEFORE UPDATE ON revisions BEGIN SELECT RAISE(ABORT, 'revisions are immutable'); END`,
      `CREATE TABLE entries (id TEXT PRIMARY KEY, jobId TEXT NOT NULL REFERENCES jobs(id) ON DELETE CASCADE, at TEXT NOT NULL, act TEXT NOT NULL, text TEXT NOT NULL)`,
      `CREATE INDEX entries_by_job ON entries(jobId, at)`,
      `CREATE TABLE mappings (signature TEXT PRIMARY KEY, mapping JSON NOT NULL, updatedAt TEXT NOT NULL)`,
    ),
  },
  {
    name: '0002-sets',
    up: statements(
      `CREATE TABLE sets (id TEXT PRIMARY KEY, jobId TEXT NOT NULL REFERENCES jobs(id) ON DELETE CASCADE, name TEXT NOT NULL, data JSON NOT NULL,
        position INTEGER NOT NULL, createdAt TEXT NOT NULL)`,
      `CREATE INDEX sets_by_job ON sets(jobId, position)`,
      `ALTER TABLE runs ADD COLUMN setId TEXT REFERENCES sets(id)`,
      `ALTER TABLE runs ADD COLUMN facts JSON`,
      `ALTER TABLE runs ADD COLUMN leftOut JSON`,
      // Runs from before there were sets make up one set for each job.
      `INSERT INTO sets SELECT lower(hex(randomblob(16))), id, 'Baseline', '{}', 0, createdAt FROM jobs WHERE id IN (SELECT jobId FROM runs)`,
      `UPDATE runs SET setId = (SELECT id FROM sets WHERE sets.jobId = runs.jobId)`,
    ),
  },
  {
    name: '0003-bench',
    up: statements(
      // What a simulated rig remembers when its power is off, by job and machine.
      `CREATE TABLE rigs (jobId TEXT NOT NULL REFERENCES jobs(id) ON DELETE CASCADE, machine TEXT NOT NULL, memory JSON NOT NULL, PRIMARY KEY (jobId, machine))`,
      `CREATE TABLE trainings (jobId TEXT PRIMARY KEY REFERENCES jobs(id) ON DELETE CASCADE, caseId TEXT NOT NULL, data JSON NOT NULL, createdAt TEXT NOT NULL)`,
    ),
  },
  {
    name: '0004-spark',
    up: statements(
      // One advance setting for a whole run, as somebody said it; and why a large step was taken all the same.
      `ALTER TABLE runs ADD COLUMN setting JSON`,
      `ALTER TABLE revisions ADD COLUMN override TEXT`,
    ),
  },
  {
    name: '0005-made-on',
    up: statements(
      // Which revisions were in force while a run was made, by table; where nobody said, the time tells.
      `ALTER TABLE runs ADD COLUMN revisions JSON NOT NULL DEFAULT '{}'`,
      `ALTER TABLE revisions ADD COLUMN global REAL NOT NULL DEFAULT 0`,
      // Two simulated machines go by other names.
      `UPDATE rigs SET machine = replace(replace(machine, 'curlew-449', 'curlew-437'), 'godwit-690', 'godwit-712')`,
    ),
  },
  {
    name: '0006-passes-and-facts',
    async up(sequelize, transaction) {
      // A pass of the guided loop was known by the name of its set.
      await sequelize.query(
        `UPDATE sets SET data = json_set(data, '$.pass', CAST(substr(name, 6) AS INTEGER))
          WHERE name GLOB 'Pass [1-9]*' AND substr(name, 6) NOT GLOB '*[^0-9]*' AND length(name) <= length('Pass 999')`,
        { transaction },
      )
      await tellMissingFacts(sequelize, transaction)
    },
  },
  {
    name: '0007-handling',
    up: statements(
      // Notes of people stand beside the lines of the application, pinned where they belong.
      `ALTER TABLE entries ADD COLUMN kind TEXT NOT NULL DEFAULT 'act'`,
      `ALTER TABLE entries ADD COLUMN run TEXT`,
      `ALTER TABLE entries ADD COLUMN rpm REAL`,
      `ALTER TABLE entries ADD COLUMN load REAL`,
      `ALTER TABLE entries ADD COLUMN photo TEXT`,
      `CREATE TABLE photos (entryId TEXT PRIMARY KEY REFERENCES entries(id) ON DELETE CASCADE, data BLOB NOT NULL)`,
      // Complaints, lines of the rig list and of the put-back ledger.
      `CREATE TABLE lines (jobId TEXT NOT NULL REFERENCES jobs(id) ON DELETE CASCADE, kind TEXT NOT NULL, id TEXT NOT NULL, position INTEGER NOT NULL,
        at TEXT NOT NULL, data JSON NOT NULL, PRIMARY KEY (jobId, kind, id))`,
      `CREATE TABLE shelf (id TEXT PRIMARY KEY, name TEXT NOT NULL, at TEXT NOT NULL, data JSON NOT NULL)`,
      `CREATE TABLE reports (jobId TEXT NOT NULL REFERENCES jobs(id) ON DELETE CASCADE, n INTEGER NOT NULL, at TEXT NOT NULL, data JSON NOT NULL, PRIMARY KEY (jobId, n))`,
    ),
  },
  {
    name: '0008-settled-span',
    // Steps of a plan are ticked by the speeds at which readings were settled.
    up: tellMissingFacts,
  },
  {
    name: '0009-sweeps',
    // A log may hold several sweeps, each of which counts.
    up: tellMissingFacts,
  },
  {
    name: '0010-read-as',
    up: statements(`ALTER TABLE runs ADD COLUMN readAs JSON`),
  },
  {
    name: '0011-rounds',
    // Readings by hand are compared by opening.
    up: tellMissingFacts,
  },
  {
    name: '0012-tables-taken-out',
    up: statements(`ALTER TABLE tables ADD COLUMN removed INTEGER NOT NULL DEFAULT 0`),
  },
  {
    name: '0013-order-and-service',
    // Order and level of service of a plan went by other names.
    up: statements(
      `UPDATE jobs SET data = json_set(json_remove(data, '$.plan.school', '$.plan.depth'),
          '$.plan.order', json_extract(data, '$.plan.school'), '$.plan.service', json_extract(data, '$.plan.depth'))
        WHERE json_type(data, '$.plan.school') = 'text'`,
    ),
  },
  {
    name: '0014-ways',
    // A revision may put in another way than a table: what it was asked with, and its numbers.
    up: statements(`ALTER TABLE revisions ADD COLUMN way JSON`),
  },
  {
    name: '0015-maps-in-force',
    // A controller may hold maps that take turns.
    up: statements(`ALTER TABLE tables ADD COLUMN inForce JSON`),
  },
  {
    name: '0016-kept-columns',
    // Columns that nothing is computed from are kept under their own names; what was guessed by values is marked.
    up: statements(`ALTER TABLE channels ADD COLUMN header TEXT`, `ALTER TABLE channels ADD COLUMN guessed INTEGER`),
  },
  {
    name: '0017-stretches',
    // Parts of a log that somebody split, joined or named.
    up: statements(`ALTER TABLE runs ADD COLUMN stretches JSON`),
  },
  {
    name: '0018-left-out-by-time',
    async up(sequelize, transaction) {
      await sequelize.query(`ALTER TABLE runs ADD COLUMN without JSON`, { transaction })
      // Of a ride its long sweeps, its holds and its roll-ons count as well.
      await sequelize.query(`UPDATE runs SET facts = NULL WHERE kind = 'road'`, { transaction })
      await tellMissingFacts(sequelize, transaction)
    },
  },
  {
    name: '0019-bin',
    // What was deleted can be brought back for a while.
    up: statements(`ALTER TABLE jobs ADD COLUMN deletedAt TEXT`),
  },
]

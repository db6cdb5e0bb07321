import { TABLE_STEPS } from '../../refusal/dangers'
import { tableSaidSchema, tableSchema } from '../tableJson'
import { movedSchema } from '../report'
import {
  againstShelfSchema,
  newShelfSchema,
  shelfDifferenceSchema,
  shelfMatchSchema,
  shelfSchema,
  shelfStartSchema,
  shelfStartedSchema,
} from '../shelf'
import {
  checkedRevisionSchema,
  historySchema,
  newRevisionSchema,
  newRevisionsSchema,
  newTableSchema,
  revisionSchema,
  tableChangeSchema,
  tableInfoSchema,
} from '../table'
import { takeWaySchema } from '../ways'
import { del, file, get, list, make, patch, post } from './call'
import { object } from 'yup'

/** Tables, their revisions, and the shelf. */
export const tableCalls = {
  readTable: post('/tables/read', 'asks', 'Read a table from a CSV, JSON or XLSX file without storing it', {
    form: object({ file: file().required(), ...tableSaidSchema.fields }),
    answer: tableSchema,
    problems: [413, 422],
  }),
  tables: get('/jobs/{job}/tables', 'Tables with their revisions', { answer: list(tableInfoSchema) }),
  tablesTakenOut: get(
    '/jobs/{job}/tables-taken-out',
    'Tables that were taken out; PATCH one with removed false puts it back',
    {
      answer: list(tableInfoSchema),
    },
  ),
  addTable: make('/jobs/{job}/tables', ['table values'], 'Add a table as its first revision', {
    body: newTableSchema,
    madeAt: '/jobs/{job}/tables/{id}',
    answer: tableInfoSchema,
    problems: [422],
  }),
  histories: get(
    '/jobs/{job}/tables/histories',
    'States of the tables that were in force at a time or came after it; oldest first',
    {
      query: { since: 'a time as in ISO 8601' },
      answer: list(historySchema),
    },
  ),
  table: get('/jobs/{job}/tables/{table}', 'One table with its revisions', { answer: tableInfoSchema }),
  changeTable: patch('/jobs/{job}/tables/{table}', 'records', 'Rename a table, take it out, or put it back', {
    body: tableChangeSchema,
    answer: tableInfoSchema,
  }),
  addRevision: make(
    '/jobs/{job}/tables/{table}/revisions',
    TABLE_STEPS,
    'Save a revision; 409 when another was saved after its parent, or a cell moves far from what was last measured and nobody says why',
    { body: newRevisionSchema, answer: tableInfoSchema, problems: [409, 422] },
  ),
  takeWay: make(
    '/jobs/{job}/ways/take',
    ['fuel step'],
    'Put one way in: its numbers become a table of the job with revisions, as one act',
    {
      description:
        'The numbers given, or those that are worked out, as they are typed in. A way other than a table becomes a percent trim on the breakpoints of the change; its revision keeps the numbers. Injectors become a revision of the table of pulses, as a declared change of hardware.',
      body: takeWaySchema,
      answer: list(tableInfoSchema),
      problems: [409, 422],
    },
  ),
  addRevisions: make(
    '/jobs/{job}/revisions',
    TABLE_STEPS,
    'Save a revision of each of several tables as one act: all of them, or none',
    {
      body: newRevisionsSchema,
      answer: list(tableInfoSchema),
      problems: [409, 422],
    },
  ),
  checkRevision: post(
    '/jobs/{job}/tables/{table}/revisions/check',
    'asks',
    'Ask whether a revision would hold a step too large to be taken unasked; the body is that of the revision, nothing is stored',
    { body: newRevisionSchema, answer: checkedRevisionSchema, problems: [409, 422] },
  ),
  revision: get(
    '/jobs/{job}/tables/{table}/revisions/{revision}',
    'A revision by its number; with .csv, .json (docs/table.schema.json) or .xlsx behind it, its export',
    { also: ['text/csv', 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet'], answer: revisionSchema },
  ),
  moved: get('/jobs/{job}/tables/{table}/moved', 'What was changed between two revisions, by zone', {
    query: { 'from?': 'revision; the first when left out', 'to?': 'revision; the latest when left out' },
    answer: movedSchema,
  }),
  shelf: get('/shelf', 'Calibrations kept from earlier jobs', { answer: list(shelfSchema) }),
  keepOnShelf: make('/shelf', 'records', 'Keep the latest revision of a table of a job', {
    body: newShelfSchema,
    answer: shelfSchema,
  }),
  shelved: get('/shelf/{shelf}', 'One of them', { answer: shelfSchema }),
  dropShelf: del('/shelf/{shelf}', 'records', 'Take a calibration off the shelf'),
  shelfMatches: get('/jobs/{job}/shelf-matches', 'What on the shelf is near this job, nearest first', {
    answer: list(shelfMatchSchema),
  }),
  shelfStart: post(
    '/jobs/{job}/shelf-start',
    ['unproven start', ...TABLE_STEPS],
    'Take a calibration from the shelf as the start of this job',
    {
      body: shelfStartSchema,
      answer: shelfStartedSchema,
      problems: [409, 422],
    },
  ),
  againstShelf: post(
    '/jobs/{job}/tables/{table}/against-shelf',
    'asks',
    'Has somebody been in here? A table against one from the shelf',
    {
      body: againstShelfSchema,
      answer: shelfDifferenceSchema,
      problems: [422],
    },
  ),
}

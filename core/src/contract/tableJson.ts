import { Refusal, refused } from '../refusal/refusal'
import { setsPlate } from '../table/kinds'
import { sentence } from '../numbers/sentence'
import { ValidationError, type InferType } from 'yup'
import { amount, choice, closed, figures, LOAD_AXES, matrix } from './fields'
import { grouped } from '../numbers/format'
import {
  breakpointFault,
  COMPOSITIONS,
  fallingCell,
  MAX_BREAKPOINTS,
  shapeFault,
  TABLE_KINDS,
  valueLimits,
  type Table,
} from '../table/table'

/** Format name inside exported tables; see docs/table.schema.json. */
export const TABLE_FORMAT = 'yuzumix-table/1'

const composition = choice(COMPOSITIONS).meta({ description: 'how a percent trim acts with a global trim' })
const loadAxis = choice(LOAD_AXES).meta({ description: '% of plate opening, or kPa absolute' })
const fields = {
  kind: choice(TABLE_KINDS).required(),
  rpm: figures().meta({ description: 'strictly rising' }),
  load: figures().meta({ description: 'strictly rising' }),
  values: matrix(),
  global: amount(-95, 300).meta({ description: 'percent that a module adds to every cell of a trim that adds' }),
}

/** A table as it is kept. */
export const tableSchema = closed({
  ...fields,
  composition: composition.required(),
  loadAxis: loadAxis.required(),
}).meta({ ref: 'Table' })
/** What may be said beside a file of a table that does not say it itself. */
export const tableSaidSchema = closed({ kind: choice(TABLE_KINDS), composition, loadAxis }).meta({ ref: 'TableSaid' })
export type TableSaid = InferType<typeof tableSaidSchema>
/** Shape of a table at every door: it multiplies, over throttle, where nothing else is said. */
export const tableInputSchema = closed({ ...fields, composition, loadAxis }).meta({ ref: 'TableInput' })

/**
 * Checks a table that came from outside.
 *
 * @throws Refusal 'no-table' naming the field at fault
 */
export function checkTable(raw: unknown): Table {
  let table: Table
  refuseLong(raw)
  try {
    const read = tableInputSchema.validateSync(raw, { strict: true, abortEarly: false })
    table = { ...read, composition: read.composition ?? 'multiply', loadAxis: read.loadAxis ?? 'throttle' }
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error
    const inner = error.inner.length ? error.inner : [error]
    throw new Refusal(
      'no-table',
      sentence(`The table cannot be used: ${inner[0]!.message}`),
      inner.map((one) => ({ field: one.path ?? 'table', message: one.message })),
    )
  }
  for (const axis of ['rpm', 'load'] as const) {
    const fault = breakpointFault(axis, table[axis])
    if (fault)
      throw new Refusal('no-table', `The ${axis} axis cannot be used: ${fault}`, [{ field: axis, message: fault }])
  }
  const fault = shapeFault(table, table.values)
  if (fault)
    throw new Refusal('no-table', `The values do not fit the breakpoints: ${fault}`, [
      { field: 'values', message: fault },
    ])
  checkValues(table)
  const { global, ...rest } = table
  if (!global) return rest
  if (table.kind !== 'fuel trim' || table.composition !== 'add')
    throw new Refusal('no-table', 'Only a fuel trim that adds has a global trim beside it.', [
      { field: 'global', message: 'only beside a fuel trim that adds' },
    ])
  return table
}

/** A list of breakpoints that no table has is not looked at number by number. */
function refuseLong(raw: unknown): void {
  const { rpm, load, values } = (raw ?? {}) as Record<string, unknown>
  const long = Object.entries({ rpm, load, values }).find(
    ([, one]) => Array.isArray(one) && one.length > MOST_LOOKED_AT,
  )
  const row = Array.isArray(values) ? values.findIndex((one) => Array.isArray(one) && one.length > MOST_LOOKED_AT) : -1
  if (!long && row < 0) return
  const field = long?.[0] ?? `values[${row}]`
  throw refused(
    'no-table',
    `The table cannot be used: ${field} has ${grouped((long?.[1] as unknown[] | undefined)?.length ?? (values as unknown[][])[row]!.length)} entries, and a table ${MAX_BREAKPOINTS} breakpoints a side at the most.`,
    field,
  )
}
/** Entries of a side that are looked at one by one: somewhat more than fit, so that what is wrong is said of each. */
const MOST_LOOKED_AT = 4 * MAX_BREAKPOINTS

function checkValues({ kind, values, load, rpm }: Table): void {
  const { least, most, unit } = valueLimits(kind)
  values.forEach((cells, row) =>
    cells.forEach((value, column) => {
      if (Number.isFinite(value) && value >= least && value <= most) return
      const where = `${grouped(rpm[column]!)} rpm, load ${load[row]}`
      throw new Refusal(
        'no-table',
        `The cell at ${where} is ${value}; a ${kind} table takes ${least} to ${most} ${unit}`.trim() + '.',
        [{ field: 'values', message: `cell at ${where} out of range`, line: row + 1, column: column + 1 }],
      )
    }),
  )
  const falls = setsPlate({ kind }) ? fallingCell(values) : null
  if (!falls) return
  const where = `${grouped(rpm[falls.column]!)} rpm, ${load[falls.row]} % of grip`
  throw new Refusal('no-table', `At ${where} the plate would shut as the hand opens: a plate table must not fall.`, [
    { field: 'values', message: `the plate falls at ${where}`, line: falls.row + 1, column: falls.column + 1 },
  ])
}

/** A table as an open JSON document (docs/table.schema.json). */
export function tableToJson(table: Table, about: { name?: string; revision?: number; reason?: string } = {}): string {
  return `${JSON.stringify({ format: TABLE_FORMAT, ...about, ...plain(table) }, null, 2)}\n`
}

/** Where a text stops being JSON, as far as the parser tells. */
const placeIn = (error: unknown): string => {
  const at = /line (\d+) column (\d+)/.exec((error as Error).message)
  return at ? ` from line ${at[1]}, column ${at[2]} on` : ''
}

function plain({ kind, composition, global, loadAxis, rpm, load, values }: Table): Table {
  return { kind, composition, ...(global && { global }), loadAxis, rpm, load, values }
}

/**
 * Reads a table from its JSON document.
 *
 * @throws Refusal 'no-table' when the text is no such document
 */
export function tableFromJson(text: string): Table {
  let raw: unknown
  try {
    raw = JSON.parse(text.replace(/^\uFEFF/, ''))
  } catch (error) {
    throw refused(
      'no-table',
      `The file is not JSON${placeIn(error)}. Export it again, or send the table as CSV.`,
      'table',
    )
  }
  if (typeof raw !== 'object' || raw === null || (raw as { format?: unknown }).format !== TABLE_FORMAT) {
    throw new Refusal('no-table', `The file is JSON, but not a table of format "${TABLE_FORMAT}".`, [
      { field: 'format', message: `must be "${TABLE_FORMAT}"` },
    ])
  }
  const {
    format: _format,
    name: _name,
    revision: _revision,
    reason: _reason,
    ...table
  } = raw as Record<string, unknown>
  return checkTable(table)
}

import {
  Refusal,
  inputRefused,
  checkInput,
  checkTable,
  firstValues,
  largeStepsText,
  changedByZone,
  passGate,
  tableSaidSchema,
  tableToCsv,
  tableToJson,
  waySheet,
} from '@yuzumix/core'
import { judgeRevision, saveRevisions } from '../acts/tables/saveRevisions'
import { takeWay } from '../acts/tables/takeWay'
import { tableToXlsx } from '../intake/tableFile'
import { addTable, changeTable, findTable, listTables } from '../store/tables'
import { findRevision, tableHistories } from '../store/revisions'
import type { Workshop } from '../acts/questions/ask'
import type { Asked, Handlers } from './handlers'
import { notFound } from './problem'
import { refuseLarge, withFile } from './upload'

const LARGEST_FILE_MB = 5
const XLSX = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet'

export function tableHandlers(context: Workshop) {
  const { store } = context

  /** A revision, or its export as a file. */
  async function revision({ at, response }: Asked<'revision'>): Promise<unknown> {
    const [number, format] = at.revision.split('.') as [string, string | undefined]
    const n = /^\d{1,7}$/.test(number) ? Number(number) : -1
    const found = await findRevision(store, at.job, at.table, n)
    if (!found) throw notFound('revision')
    const { table, revision: info, name } = found
    if (format === undefined) return { ...info, table }
    const exports: Record<string, () => [string, string | Buffer] | Promise<[string, Buffer]>> = {
      csv: () => ['text/csv', tableToCsv(table)],
      json: () => ['application/json', tableToJson(table, { name, revision: info.n, reason: info.reason })],
      xlsx: async () => [XLSX, await tableToXlsx(table, name)],
    }
    const { way } = info
    if (way) exports['sheet'] = () => ['text/csv', waySheet(way)]
    const made = Object.hasOwn(exports, format) ? await exports[format]!() : null
    if (!made)
      throw new Refusal(
        'not-found',
        `There is no export as "${format.slice(0, 20)}". Ask for csv, json or xlsx; for a way that was put in, sheet.`,
      )
    const fileName = `${name.replace(/[^\p{L}\p{N} ._-]/gu, '_')} revision ${info.n}.${format === 'sheet' ? 'sheet.csv' : format}`
    response.attachment(fileName).type(made[0]).send(made[1])
    return undefined
  }

  return {
    revision,
    readTable: (asked) =>
      withFile(asked, store, async (file, texts) => {
        refuseLarge(file, 'A table file', LARGEST_FILE_MB)
        return context.pool.readTable({ path: file.path, said: checkInput(tableSaidSchema, texts) }, asked.gone())
      }),
    tables: async ({ job }) => listTables(store, (await job()).id),
    tablesTakenOut: async ({ job }) => listTables(store, (await job()).id, true),
    async histories({ job, query }) {
      const { id } = await job()
      const since = Date.parse(query['since'] ?? '')
      if (Number.isNaN(since)) throw inputRefused([{ field: 'since', message: 'must be a time as in ISO 8601' }])
      return tableHistories(store, id, new Date(since).toISOString())
    },
    async addTable({ job, body: { name, cylinder, inForce, table: given, reason, override } }) {
      const { id } = await job()
      const table = checkTable(given)
      const lines = passGate(firstValues(table), override)
      const passed = { override: lines.length ? override! : null, lines }
      const made = { name, cylinder: cylinder ?? null, inForce: inForce ?? null, table }
      return addTable(store, id, made, reason ?? 'As it was at first', passed)
    },
    table: ({ at }) => findTable(store, at.job, at.table),
    changeTable: async ({ job, at, body }) => changeTable(store, (await job()).id, at.table, body),
    async checkRevision({ job, at, body }) {
      const found = await judgeRevision(context, await job(), { ...body, table: at.table })
      if (!found) return null
      const { steps, from } = found.judged
      return {
        steps: steps.map((step) => ({ ...step, size: Number.isFinite(step.size) ? step.size : null })),
        from,
        text: steps.length ? largeStepsText(steps, from) : '',
      }
    },
    async addRevision({ job, at, body }) {
      const saved = await saveRevisions(context, await job(), [{ ...body, table: at.table }])
      return saved?.[0]
    },
    async addRevisions({ job, body: { revisions } }) {
      const twice = revisions.findIndex(({ table }, k) => revisions.findIndex((one) => one.table === table) < k)
      if (twice >= 0)
        throw inputRefused([{ field: `revisions[${twice}].table`, message: 'is named twice: one revision a table' }])
      const saved = await saveRevisions(context, await job(), revisions, (place) => `revisions[${place}].`)
      if (!saved) throw notFound('table')
      return saved
    },
    takeWay: async ({ job, body, gone }) => takeWay(context, await job(), body, gone()),
    async moved({ job, at, query }) {
      const { id } = await job()
      const info = await findTable(store, id, at.table)
      if (!info) return null
      const numberOf = (name: string, usual: number): number => {
        const n = query[name] === undefined ? usual : Number(query[name])
        if (!info.revisions.some((one) => one.n === n)) throw notFound(`revision to count ${name}`)
        return n
      }
      const [from, to] = [numberOf('from', info.revisions[0]!.n), numberOf('to', info.revisions.at(-1)!.n)]
      const [first, last] = await Promise.all([from, to].map((n) => findRevision(store, id, info.id, n)))
      return changedByZone(first!.table, last!.table)
    },
  } satisfies Partial<Handlers>
}

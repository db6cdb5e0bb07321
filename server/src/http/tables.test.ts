import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import Ajv from 'ajv/dist/2020'
import type { TableInfo } from '@yuzumix/core'
import { api, asBytes, TABLE, root, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
const call = () => server.call()
const newJob: TestServer['newJob'] = (...args) => server.newJob(...args)
async function newTable(job: string): Promise<TableInfo> {
  const made = call().post(api(`/jobs/${job}/tables`))
  return (await made.send({ name: 'Trim', table: TABLE }).expect(201)).body as TableInfo
}

describe('tables', () => {
  it('are renamed, taken out and put back with all their revisions, and the logbook tells of it', async () => {
    const job = await newJob()
    const table = await newTable(job)
    const path = api(`/jobs/${job}/tables/${table.id}`)
    const tables = async () => (await call().get(api(`/jobs/${job}/tables`))).body as TableInfo[]
    expect((await call().patch(path).send({ name: 'Trim, front' }).expect(200)).body.name).toBe('Trim, front')
    await call().patch(path).send({ name: '' }).expect(400)
    await call().patch(path).send({ kind: 'fuel base' }).expect(400)
    await call().patch(path).send({ removed: true }).expect(200)
    expect(await tables()).toEqual([])
    await call().get(path).expect(404)
    expect((await call().get(api(`/jobs/${job}`))).body.tableCount).toBe(0)
    // Nothing is saved into a table that was taken out.
    const values = TABLE.values.map((row) => row.map(() => 1))
    await call().post(`${path}/revisions`).send({ values, parent: 1, reason: 'x', override: 'x' }).expect(404)
    await call().patch(path).send({ removed: false }).expect(200)
    expect(await tables()).toEqual([{ ...table, name: 'Trim, front' }])
    const { body } = await call().get(api(`/jobs/${job}/entries`))
    expect((body as { act: string; text: string }[]).slice(0, 3).map((one) => [one.act, one.text])).toEqual([
      ['table put back', 'Trim, front'],
      ['table taken out', 'Trim, front'],
      ['table renamed', 'Trim: now Trim, front'],
    ])
    await call()
      .patch(api(`/jobs/${job}/tables/nobody`))
      .send({ name: 'x' })
      .expect(404)
  })
  it('keep every revision, refuse a stale one and never change an old one', async () => {
    const job = await newJob()
    const table = await newTable(job)
    const path = api(`/jobs/${job}/tables/${table.id}`)
    const values = [
      [9, 1, 2],
      [3, 4, 5],
    ]
    await call().post(`${path}/revisions`).send({ values, parent: 1, reason: 'First pass', runs: [] }).expect(201)
    expect(
      (await call().post(`${path}/revisions`).send({ values, parent: 1, reason: 'Late' }).expect(409)).body.latest,
    ).toBe(2)
    expect((await call().get(`${path}/revisions/1`)).body.table).toEqual(TABLE)
    expect((await call().get(`${path}/revisions/2`)).body).toMatchObject({
      n: 2,
      parent: 1,
      reason: 'First pass',
      table: { values },
    })
    for (const bad of [
      { values: [[1]], parent: 2, reason: 'x' },
      {
        values: [
          [1, 2, 999],
          [3, 4, 5],
        ],
        parent: 2,
        reason: 'x',
      },
    ])
      await call().post(`${path}/revisions`).send(bad).expect(422)
    await call().post(`${path}/revisions`).send({ values, parent: 2 }).expect(400)
    await expect(server.store.sequelize.query(`UPDATE revisions SET reason = 'x'`)).rejects.toThrow()
  })
  it('are listed without the cells of any revision but the latest', async () => {
    const job = await newJob()
    const { body: table } = await call()
      .post(api(`/jobs/${job}/tables`))
      .send({ name: 'Trim', table: TABLE })
      .expect(201)
    for (let n = 1; n < 6; n++)
      await call()
        .post(api(`/jobs/${job}/tables/${table.id}/revisions`))
        .send({ values: TABLE.values.map((row) => row.map((cell) => cell + n / 10)), parent: n, reason: 'x' })
        .expect(201)
    const asked: string[] = []
    const { options } = server.store.sequelize as unknown as { options: { logging: unknown } }
    options.logging = (sql: string) => asked.push(sql)
    const { body } = await call()
      .get(api(`/jobs/${job}/tables`))
      .expect(200)
    options.logging = false
    expect(body[0].revisions).toHaveLength(6)
    expect(body[0].table.values[0][0]).toBeCloseTo(0.5, 9)
    const withCells = asked.filter((sql) => /SELECT.*`cells`.*FROM `revisions`/.test(sql))
    expect(withCells).toHaveLength(1)
    expect(withCells[0]).toMatch(/`n` = 6/)
  })
  it('go out as CSV, JSON and XLSX and come back equal', async () => {
    const job = await newJob()
    const table = (
      await call()
        .post(api(`/jobs/${job}/tables`))
        .send({
          name: 'A/B: trim',
          table: {
            ...TABLE,
            values: [
              [0.125, -1, 2.5],
              [3, 4.75, 5],
            ],
          },
        })
        .expect(201)
    ).body as TableInfo
    for (const format of ['csv', 'json', 'xlsx']) {
      const { body } = await call()
        .get(api(`/jobs/${job}/tables/${table.id}/revisions/1.${format}`))
        .expect(200)
        .expect('content-disposition', /attachment/)
        .buffer(true)
        .parse(asBytes)
      if (format === 'json') {
        const check = new Ajv().compile(
          JSON.parse(readFileSync(join(root, 'docs/table.schema.json'), 'utf8')) as object,
        )
        check(JSON.parse((body as Buffer).toString()))
        expect(check.errors).toBeNull()
      }
      const back = await call()
        .post(api('/tables/read'))
        .attach('file', body as Buffer, `t.${format}`)
        .expect(200)
      expect({ format, table: back.body }).toEqual({ format, table: table.table })
    }
    await call()
      .get(api(`/jobs/${job}/tables/${table.id}/revisions/1.pdf`))
      .expect(404)
    for (const bad of ['', 'kind,fuel trim\nload,1\n', 'PK\u0003\u0004 no workbook', '\u0000\u0001', '{"format":"x"}'])
      await call().post(api('/tables/read')).attach('file', Buffer.from(bad), 'x').expect(422)
  })
  it('a sheet without a line of facts is read as it is said to be, or refused with the kinds', async () => {
    const sheet = 'kPa;2000;4000\n20;7,5;8\n60;9;10,25\n'
    const refused = await call().post(api('/tables/read')).attach('file', Buffer.from(sheet), 'plain.csv').expect(422)
    expect(refused.body).toMatchObject({
      detail: expect.stringContaining('fuel base, fuel trim'),
      errors: [{ field: 'kind' }],
    })
    const read = async (text: string) =>
      (
        await call()
          .post(api('/tables/read'))
          .field('kind', 'fuel base')
          .field('loadAxis', 'manifold')
          .attach('file', Buffer.from(text), 'plain.csv')
          .expect(200)
      ).body
    const table = {
      kind: 'fuel base',
      loadAxis: 'manifold',
      rpm: [2000, 4000],
      load: [20, 60],
      values: [
        [7.5, 8],
        [9, 10.25],
      ],
    }
    expect(await read(sheet)).toMatchObject(table)
    expect(await read('rpm;60;20\n2000;9;7,5\n4000;10,25;8\n')).toMatchObject(table)
    await call()
      .post(api('/tables/read'))
      .field('kind', 'soup')
      .attach('file', Buffer.from(sheet), 'plain.csv')
      .expect(400)
  })
})

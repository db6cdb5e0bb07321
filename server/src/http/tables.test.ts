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

describe('tables', () => {
  it('keep every revision, refuse a stale one and never change an old one', async () => {
    const job = await newJob()
    const table = (
      await call()
        .post(api(`/jobs/${job}/tables`))
        .send({ name: 'Trim', table: TABLE })
        .expect(201)
    ).body as TableInfo
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
})

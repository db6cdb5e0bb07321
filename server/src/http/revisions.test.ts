import type { NewRevisions, TableInfo } from '@yuzumix/core'
import { api, TABLE, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

async function twoTables(): Promise<{ job: string; ids: string[] }> {
  const job = await server.newJob()
  const ids: string[] = []
  for (const name of ['Trim, front', 'Trim, rear']) {
    const { body } = await server
      .call()
      .post(api(`/jobs/${job}/tables`))
      .send({ name, table: TABLE })
      .expect(201)
    ids.push((body as TableInfo).id)
  }
  return { job, ids }
}
const plus = (by: number): number[][] => TABLE.values.map((row) => row.map((cell) => cell + by))
const save = (job: string, revisions: Partial<NewRevisions['revisions'][number]>[]) =>
  server
    .call()
    .post(api(`/jobs/${job}/revisions`))
    .send({ revisions })
const counts = async (job: string): Promise<number[]> =>
  ((await server.call().get(api(`/jobs/${job}/tables`))).body as TableInfo[]).map((one) => one.revisions.length)

describe('revisions of several tables', () => {
  it('are saved as one act, in the order in which they are named', async () => {
    const { job, ids } = await twoTables()
    const { body } = await save(
      job,
      ids.map((table, k) => ({ table, values: plus(1 + k), parent: 1, reason: 'pass 1' })),
    ).expect(201)
    const tables = body as TableInfo[]
    expect(tables.map((one) => one.id)).toEqual(ids)
    expect(tables.map((one) => one.table.values[0]![0])).toEqual([1, 2])
    const entries = (await server.call().get(api(`/jobs/${job}/entries`))).body as { act: string; text: string }[]
    expect(entries.filter((one) => one.act === 'revision saved').map((one) => one.text)).toEqual(
      expect.arrayContaining(['Trim, front, revision 2: pass 1', 'Trim, rear, revision 2: pass 1']),
    )
  })
  it.each([
    ['a parent that is no longer the latest', { parent: 2 }, 409, /Revision 1 was saved meanwhile/],
    ['a large step that nobody explains', { values: plus(60) }, 409, /6 cells move far from revision 1/],
    ['cells that do not fit', { values: [[1]] }, 422, /do not fit the breakpoints/],
    ['a table of no job', { table: 'none' }, 404, /There is no such table/],
    ['what is not known', { colour: 'red' } as object, 400, /revisions\[1\]\.colour is not known here/],
  ])('one with %s is refused with all the others', async (_what, over, status, words) => {
    const { job, ids } = await twoTables()
    const good = ids.map((table) => ({ table, values: plus(1), parent: 1, reason: 'pass 1' }))
    const { body } = await save(job, [good[0]!, { ...good[1]!, ...over }]).expect(status)
    expect((body as { detail: string }).detail).toMatch(words)
    expect(await counts(job)).toEqual([1, 1])
  })
  it('a large step is named by its place, and taken with a reason for it', async () => {
    const { job, ids } = await twoTables()
    const both = ids.map((table, k) => ({ table, values: plus(k ? 60 : 1), parent: 1, reason: 'pass 1' }))
    const { body } = await save(job, both).expect(409)
    expect((body as { errors: { field: string }[] }).errors.slice(0, 2).map((one) => one.field)).toEqual([
      'revisions[1].override',
      'revisions[1].values[0][0]',
    ])
    await save(job, [both[0]!, { ...both[1]!, override: 'another injector' }]).expect(201)
    expect(await counts(job)).toEqual([2, 2])
  })
  it('one table twice, or none, is refused', async () => {
    const { job, ids } = await twoTables()
    const one = { table: ids[0]!, values: plus(1), parent: 1, reason: 'x' }
    expect((await save(job, [one, one]).expect(400)).body.errors[0].field).toBe('revisions[1].table')
    await save(job, []).expect(400)
    expect(await counts(job)).toEqual([1, 1])
  })
})

import { changeQuestion, DEFAULT_MIXTURE, type Job, type RunInfo, type Table, type TableInfo } from '@yuzumix/core'
import { madeOnWords } from './madeOnWords'

const valued = (value: number): Table => ({
  kind: 'fuel base',
  composition: 'multiply',
  loadAxis: 'throttle',
  rpm: [1000, 2000],
  load: [30, 40],
  values: [
    [value, value],
    [value, value],
  ],
})
const tableOf = (revisions: number, value = 10): TableInfo =>
  ({
    id: 't',
    job: 'j',
    name: 'Fuel',
    cylinder: null,
    table: valued(value),
    revisions: Array.from({ length: revisions }, (_, k) => ({ n: k + 1, createdAt: `2026-01-0${k + 1}`, runs: [] })),
  }) as unknown as TableInfo
const run = (id: string, revision: number): RunInfo =>
  ({
    id,
    set: 's',
    kind: 'sweep',
    leftOut: null,
    channels: [{ channel: 'lambda1' }],
    revisions: { t: revision },
    createdAt: '2026-02-01',
    warnings: [],
  }) as unknown as RunInfo
/** The words of a table whose older states held 10 everywhere. */
async function wordsOf(table: TableInfo, runs: RunInfo[], others: TableInfo[] = []): Promise<string> {
  const job = { id: 'j', mixture: DEFAULT_MIXTURE } as unknown as Job
  const ground = { job, sets: [{ id: 's', setup: '' }] as never, runs, tables: [table, ...others], complaints: [] }
  const loader = { revision: () => Promise.resolve(valued(10)) }
  return madeOnWords(await changeQuestion(ground, loader, { table }))
}

describe('what runs of a change were made on, in words', () => {
  it('is nothing where they were made on the table as it is', async () => {
    expect(await wordsOf(tableOf(2), [run('a', 2)])).toBe('')
  })
  it('tells how many cells moved since', async () => {
    const said = 'Measured on revision 1; 4 changes are in revision 2: measure again.'
    expect(await wordsOf(tableOf(2, 11), [run('a', 1)])).toBe(said)
  })
  it('counts runs of older states, which are left out', async () => {
    const runs = [run('a', 1), run('b', 1), run('c', 2)]
    expect(await wordsOf(tableOf(2), runs)).toBe('2 runs were made on older revisions and are left out.')
  })
  it('tells of another table that moved', async () => {
    const other = { ...tableOf(2, 11), id: 'u' }
    const made = { ...run('a', 1), revisions: { t: 1, u: 1 } }
    expect(await wordsOf(tableOf(1), [made], [other])).toBe(
      'Other fuel tables were changed since these runs: measure again.',
    )
  })
})

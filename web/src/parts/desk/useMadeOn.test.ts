import { createPinia, setActivePinia } from 'pinia'
import { effectScope, nextTick, shallowRef } from 'vue'
import type { RunInfo, Table, TableInfo } from '@yuzumix/core'
import { api } from '@/api/client'
import { useJob } from '@/job/openJob'
import { useMadeOn } from './useMadeOn'

jest.mock('@/api/client', () => ({ api: {}, ProblemError: class extends Error {} }))

const TABLE: Table = {
  kind: 'fuel base',
  composition: 'multiply',
  loadAxis: 'throttle',
  rpm: [1, 2],
  load: [3, 4],
  values: [
    [10, 10],
    [10, 10],
  ],
}
const tableOf = (revisions: number, value = 10): TableInfo =>
  ({
    id: 't',
    job: 'j',
    name: 'Fuel',
    cylinder: null,
    table: { ...TABLE, values: TABLE.values.map((row) => row.map(() => value)) },
    revisions: Array.from({ length: revisions }, (_, k) => ({ n: k + 1, createdAt: `2026-01-0${k + 1}` })),
  }) as unknown as TableInfo
const run = (id: string, revision: number): RunInfo =>
  ({ id, revisions: { t: revision }, createdAt: '2026-02-01' }) as unknown as RunInfo
const settled = async (): Promise<void> => {
  for (let k = 0; k < 20; k++) await nextTick()
}
let asked: { n: number; give: () => void; fail: (error: Error) => void }[] = []
beforeEach(() => {
  asked = []
  setActivePinia(createPinia())
  Object.assign(api, {
    revision: (_job: string, _table: string, n: number) =>
      new Promise((resolve, fail) => asked.push({ n, give: () => resolve({ n, table: TABLE }), fail })),
  })
})
function setUp(tables: TableInfo[], runs: RunInfo[]) {
  const open = useJob()
  open.tables = tables
  const given = shallowRef(runs)
  const scope = effectScope()
  return { open, given, scope, ...scope.run(() => useMadeOn(given))! }
}

describe('what a change may rest on', () => {
  it('runs made on the table as it is: nothing moved, nothing is said', async () => {
    const made = setUp([tableOf(2)], [run('a', 2)])
    await settled()
    expect([made.since.value, asked.length, made.note(tableOf(2))]).toEqual([[], 0, ''])
  })
  it('a table that moved since is told with how many cells, once its older state is here', async () => {
    const made = setUp([tableOf(2, 11)], [run('a', 1)])
    await settled()
    expect(made.since.value).toBeNull()
    asked[0]!.give()
    await settled()
    expect(made.since.value).toMatchObject([{ id: 't', revision: 1 }])
    expect(made.note(tableOf(2, 11))).toBe('Measured on revision 1; 4 changes are in revision 2: measure again.')
  })
  it('runs of an older state are left out and counted', async () => {
    const made = setUp([tableOf(2)], [run('a', 1), run('b', 1), run('c', 2)])
    await settled()
    expect(made.runs.value.map((one) => one.id)).toEqual(['c'])
    expect(made.note(tableOf(2))).toBe('2 runs were made on older revisions and are left out.')
  })
  it('an older state that comes late, after the runs changed, is dropped', async () => {
    const made = setUp([tableOf(3, 11)], [run('a', 1)])
    await settled()
    made.given.value = [run('b', 2)]
    await settled()
    asked[1]!.give()
    await settled()
    asked[0]!.give()
    await settled()
    expect(made.since.value).toMatchObject([{ revision: 2 }])
  })
  it('one that cannot be read is told, and nothing is taken for known', async () => {
    const made = setUp([tableOf(2, 11)], [run('a', 1)])
    await settled()
    asked[0]!.fail(new Error('No answer.'))
    await settled()
    expect([made.since.value, made.problem.value]).toEqual([null, 'No answer.'])
  })
})

import { createPinia, setActivePinia } from 'pinia'
import { effectScope, nextTick, shallowRef } from 'vue'
import type { RunInfo, Table, TableInfo } from '@yuzumix/core'
import { api } from '@/api/client'
import { useJob } from './openJob'
import { useCorrected } from './useCorrected'

jest.mock('@/api/client', () => ({ api: {}, ProblemError: class extends Error {} }))

const tableOf = (id: string, revisions: number): TableInfo =>
  ({
    id,
    job: 'j',
    cylinder: null,
    table: { kind: 'fuel base' } as Table,
    revisions: Array.from({ length: revisions }, (_, k) => ({ n: k + 1, createdAt: `2026-01-0${k + 1}` })),
  }) as unknown as TableInfo
const run = (revisions: Record<string, number>): RunInfo =>
  ({ id: JSON.stringify(revisions), revisions, createdAt: '2026-02-01' }) as unknown as RunInfo
const settled = async (): Promise<void> => {
  for (let k = 0; k < 30; k++) await nextTick()
}
let asked: { what: string; give: () => void; fail: () => void }[] = []
beforeEach(() => {
  asked = []
  setActivePinia(createPinia())
  Object.assign(api, {
    revision: (_job: string, table: string, n: number) =>
      new Promise((resolve, reject) =>
        asked.push({
          what: `${table} ${n}`,
          give: () => resolve({ table: { name: `${table} ${n}` } }),
          fail: () => reject(new Error('gone')),
        }),
      ),
  })
})
function setUp(tables: TableInfo[], lists: RunInfo[][]) {
  useJob().tables = tables
  const given = shallowRef(lists)
  const corrected = effectScope().run(() => useCorrected(given))!
  return { given, corrected }
}

describe('what was corrected before runs were made', () => {
  it('is nothing for runs on the first revision, and nothing is asked', async () => {
    const { corrected } = setUp([tableOf('t', 3)], [[run({ t: 1 })]])
    await settled()
    expect([corrected.value, asked.length]).toEqual([[[]], 0])
  })
  it('is each table as it was at first and as it stood then, for each list of runs, asked once', async () => {
    const { corrected } = setUp([tableOf('t', 3), tableOf('u', 1)], [[run({ t: 1 })], [run({ t: 2 })], [run({ t: 3 })]])
    await settled()
    expect(corrected.value).toBeNull()
    expect(asked.map((one) => one.what)).toEqual(['t 1', 't 2', 't 3'])
    asked.forEach((one) => one.give())
    await settled()
    const states = corrected.value!.map((list) => list.map(({ then, now }) => [then, now]))
    expect(states).toEqual([[], [[{ name: 't 1' }, { name: 't 2' }]], [[{ name: 't 1' }, { name: 't 3' }]]])
  })
  it('a late answer to an earlier question is dropped, and a state that cannot be had is left out', async () => {
    const { given, corrected } = setUp([tableOf('t', 3)], [[run({ t: 2 })]])
    await settled()
    given.value = [[run({ t: 3 })]]
    await settled()
    asked.slice(2).forEach((one) => one.fail())
    await settled()
    expect(corrected.value).toEqual([[]])
    asked.slice(0, 2).forEach((one) => one.give())
    await settled()
    expect(corrected.value).toEqual([[]])
  })
})

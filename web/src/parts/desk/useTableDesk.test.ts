import { createPinia, setActivePinia } from 'pinia'
import { effectScope, nextTick, ref } from 'vue'
import type { RunInfo, Table, TableInfo } from '@yuzumix/core'
import { api } from '@/api/client'
import { useTableDesk } from './useTableDesk'

jest.mock('@/api/client', () => ({ api: {} }))
jest.mock('@/api/notify', () => ({ notifyProblem: jest.fn(), notifyRefused: jest.fn(), notifyDone: jest.fn() }))

const tableOf = (id: string, value: number): TableInfo =>
  ({
    id,
    job: 'j',
    name: `Table ${id}`,
    cylinder: null,
    table: {
      kind: 'fuel base',
      composition: 'multiply',
      loadAxis: 'throttle',
      rpm: [1, 2],
      load: [3, 4],
      values: [
        [value, value],
        [value, value],
      ],
    },
    revisions: [{ n: 1 }, { n: 2 }],
  }) as unknown as TableInfo
/** Revisions asked for, to be answered by hand. */
let asked: { table: string; n: number; answer: (table: Table) => void }[] = []
beforeEach(() => {
  asked = []
  setActivePinia(createPinia())
  Object.assign(globalThis, {
    localStorage: { getItem: () => null, setItem: () => undefined, removeItem: () => undefined },
  })
  Object.assign(api, {
    revision: (_job: string, table: string, n: number) =>
      new Promise((resolve) => asked.push({ table, n, answer: (found) => resolve({ n, table: found }) })),
  })
})
const desk = () =>
  effectScope(true).run(() => useTableDesk(ref([tableOf('a', 10), tableOf('b', 99)]), 'fuel', ref<RunInfo[]>([])))!

it('the difference of one table is never shown under the name of another', async () => {
  const one = desk()
  one.compared.value = [1, 2]
  await nextTick()
  one.tableId.value = 'b'
  await nextTick()
  for (const { answer } of asked) answer(tableOf('a', 10).table)
  await new Promise((done) => setTimeout(done))
  expect([one.info.value!.id, one.compared.value, one.pair.value]).toEqual(['b', null, null])
})
it('a difference that is asked for stands once both revisions are here, and of two the later one', async () => {
  const one = desk()
  one.compared.value = [1, 2]
  await nextTick()
  one.compared.value = [2, 1]
  await nextTick()
  for (const { n, answer } of [...asked].reverse()) answer(tableOf('a', n).table)
  await new Promise((done) => setTimeout(done))
  expect(one.pair.value!.map((table) => table.values[0]![0])).toEqual([2, 1])
})

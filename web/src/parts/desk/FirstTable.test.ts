/** @jest-environment jsdom */
import { mount } from '@vue/test-utils'
import { ref } from 'vue'
import FirstTable from './FirstTable.vue'
import type { TableDesk } from './useTableDesk'

jest.mock('./TableKindDialog.vue', () => ({ __esModule: true, default: { template: '<i />' } }))
jest.mock('./NewTableDialog.vue', () => ({
  __esModule: true,
  default: {
    props: ['modelValue', 'grid', 'what'],
    emits: ['added'],
    template: '<button class="made" @click="$emit(\'added\', \'t2\')">{{ what }} {{ grid.rpm.join(" ") }}</button>',
  },
}))

const GRID = { loadAxis: 'throttle' as const, rpm: [2000, 4000], load: [10, 100] }
function shown(what: 'fuel' | 'spark' | 'plate') {
  const acts: string[] = []
  const desk = {
    what,
    adding: ref(false),
    fromFile: ref(null),
    tableId: ref(''),
    newTable: () => acts.push('new'),
    readFile: (file: File) => Promise.resolve(acts.push(file.name)),
  }
  const first = mount(FirstTable, {
    props: { desk: desk as unknown as TableDesk, grid: GRID },
    slots: { switch: '<i class="views" />' },
  })
  return { first, desk, acts }
}

describe('a stage before it has a table', () => {
  it.each([
    ['fuel', 'change its parts under "Carburettor"'],
    ['spark', 'base in degrees before top dead centre'],
    ['plate', 'a plate table of the measured map'],
  ] as const)('says what to do for want of a %s table', (what, words) => {
    const { first } = shown(what)
    expect(first.text()).toContain(words)
    expect(first.find('.views').exists()).toBe(true)
  })
  it('makes one on the grid it is given, or reads one, and shows what was made', async () => {
    const { first, desk, acts } = shown('fuel')
    await first.find('button').trigger('click')
    const input = first.find('input[type="file"]')
    Object.defineProperty(input.element, 'files', { value: [new File(['x'], 'trim.csv')] })
    await input.trigger('change')
    expect(acts).toEqual(['new', 'trim.csv'])
    expect(first.find('.made').text()).toBe('fuel 2000 4000')
    await first.find('.made').trigger('click')
    expect(desk.tableId.value).toBe('t2')
  })
})

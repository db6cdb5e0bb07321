/** @jest-environment jsdom */
import { mount } from '@vue/test-utils'
import { nextTick, ref } from 'vue'
import { grouped, type Selection } from '@yuzumix/core'
import TableGrid from './TableGrid.vue'

const VALUES = [
  [10, 11, 12],
  [20, 21, 22],
]
function shown(over: Partial<InstanceType<typeof TableGrid>['$props']> = {}) {
  const selection = ref<Selection>({ row0: 0, column0: 0, row1: 0, column1: 0 })
  const wrapper = mount(TableGrid, {
    attachTo: document.body,
    props: {
      grid: { rpm: [2000, 4000, 6000], load: [20, 100] },
      kind: 'fuel base',
      values: VALUES,
      shown: String,
      look: (row: number, column: number) => ({ text: String(VALUES[row]![column]) }),
      loadUnit: '%',
      label: 'Fuel',
      selection: selection.value,
      'onUpdate:selection': (next: Selection) => {
        selection.value = next
        void wrapper.setProps({ selection: next })
      },
      ...over,
    },
  })
  const press = async (key: string, held: object = {}): Promise<void> => {
    await wrapper.get('table').trigger('keydown', { key, ...held })
    await nextTick()
  }
  return { wrapper, selection, press }
}
const acts = (wrapper: ReturnType<typeof shown>['wrapper']): unknown[] => (wrapper.emitted('act') ?? []).flat()

describe('complaints on a table', () => {
  it('stand at the speeds they are pinned to', () => {
    const { wrapper } = shown({ pins: [{ from: 3000, to: 6000, text: 'hesitates' }] })
    const pinned = wrapper.findAll('th.pinned').map((one) => one.text())
    expect(pinned).toEqual([`${grouped(4000)}, hesitates`, `${grouped(6000)}, hesitates`])
  })
})

describe('a table by pointer', () => {
  const cell = (wrapper: ReturnType<typeof shown>['wrapper'], at: string) => wrapper.get(`[data-at="${at}"]`)
  it('is selected by drawing over it, the way it is drawn, until the button is let go', async () => {
    const { wrapper, selection } = shown()
    await cell(wrapper, '1:2').trigger('pointerdown', { button: 0 })
    await nextTick()
    expect(document.activeElement).toBe(cell(wrapper, '1:2').element)
    await cell(wrapper, '0:1').trigger('pointerenter')
    expect(selection.value).toEqual({ row0: 1, column0: 2, row1: 0, column1: 1 })
    expect(wrapper.findAll('td.in').map((one) => one.attributes('data-at'))).toEqual(['1:1', '1:2', '0:1', '0:2'])
    expect(wrapper.findAll('td.active').map((one) => one.attributes('data-at'))).toEqual(['0:1'])
    await wrapper.get('.scroll').trigger('pointerup')
    await cell(wrapper, '0:0').trigger('pointerenter')
    expect(selection.value).toMatchObject({ row1: 0, column1: 1 })
  })
  it('is stretched with Shift, and left as it is by another button', async () => {
    const { wrapper, selection } = shown()
    await cell(wrapper, '1:1').trigger('pointerdown', { button: 0, shiftKey: true })
    expect(selection.value).toEqual({ row0: 0, column0: 0, row1: 1, column1: 1 })
    await cell(wrapper, '0:2').trigger('pointerdown', { button: 2 })
    expect(selection.value).toMatchObject({ row1: 1, column1: 1 })
  })
  it('gives and takes cells as text', async () => {
    const { wrapper, press } = shown()
    await press('ArrowRight', { shiftKey: true })
    const given: string[] = []
    const clipboardData = { setData: (_kind: string, text: string) => given.push(text), getData: () => '7\t8' }
    await wrapper.get('table').trigger('copy', { clipboardData })
    await wrapper.get('table').trigger('paste', { clipboardData })
    expect(given).toEqual(['10\t11'])
    expect(wrapper.emitted('paste')).toEqual([['7\t8']])
  })
})

describe('a table by keys alone', () => {
  it('moves by arrows, the highest load on top, and selects with Shift', async () => {
    const { selection, press } = shown()
    await press('ArrowUp')
    await press('ArrowRight')
    expect(selection.value).toEqual({ row0: 1, column0: 1, row1: 1, column1: 1 })
    await press('ArrowRight', { shiftKey: true })
    expect(selection.value).toEqual({ row0: 1, column0: 1, row1: 1, column1: 2 })
    await press('Home')
    expect(selection.value).toMatchObject({ column0: 0, column1: 0 })
    await press('End', { shiftKey: true })
    expect(selection.value).toMatchObject({ column0: 0, column1: 2 })
    for (let k = 0; k < 4; k++) await press('ArrowDown')
    expect(selection.value).toEqual({ row0: 0, column0: 2, row1: 0, column1: 2 })
    await press('a', { ctrlKey: true })
    expect(selection.value).toEqual({ row0: 0, column0: 0, row1: 1, column1: 2 })
  })
  it('says what an entry will do before Enter, and gives it then', async () => {
    const { wrapper, press } = shown()
    for (const key of '+22') await press(key)
    expect(wrapper.get('[role=status]').text()).toMatch(/^Enter: .*22/)
    await press('Enter')
    const [take, words] = wrapper.emitted('entry')![0] as [(cell: number) => number, string]
    expect(take(10)).toBeCloseTo(12.2)
    expect(words).not.toMatch(/^Enter/)
  })
  it('letters act, but belong to what is being typed once it is begun', async () => {
    const { wrapper, press } = shown()
    for (const key of ['l', 'o', 'e', 't', 'a', 'A', 'PageUp', 'PageDown']) await press(key)
    expect(acts(wrapper)).toEqual(['line', 'even', 'extend', 'hold', 'take', 'take all', 'up', 'down'])
    await press('1')
    await press('a')
    expect(acts(wrapper)).toHaveLength(8)
    await press('Enter')
    expect((wrapper.emitted('fault')![0] as [Error])[0].message).toMatch(/"1a": .*Nothing was changed/)
  })
  it('Escape drops what is typed', async () => {
    const { wrapper, press } = shown()
    await press('9')
    await press('Escape')
    await press('Enter')
    expect([wrapper.emitted('entry'), wrapper.emitted('fault')]).toEqual([undefined, undefined])
  })
  it('undo, redo and save by their keys, on either kind of keyboard', async () => {
    const { wrapper, press } = shown()
    await press('z', { ctrlKey: true })
    await press('Z', { metaKey: true, shiftKey: true })
    await press('y', { ctrlKey: true })
    await press('s', { metaKey: true })
    expect(acts(wrapper)).toEqual(['undo', 'redo', 'redo', 'save'])
  })
  it('read only, it moves and copies, and takes nothing', async () => {
    const { wrapper, selection, press } = shown({ readonly: true })
    await press('ArrowRight')
    for (const key of ['5', 'Enter', 'l', 'A']) await press(key)
    await wrapper.get('table').trigger('paste', { clipboardData: { getData: () => '1' } })
    expect(selection.value.column1).toBe(1)
    expect([wrapper.emitted('entry'), wrapper.emitted('paste'), acts(wrapper)]).toEqual([undefined, undefined, []])
    const copied: string[] = []
    await wrapper
      .get('table')
      .trigger('copy', { clipboardData: { setData: (_kind: string, text: string) => copied.push(text) } })
    expect(copied).toEqual(['11'])
  })
})

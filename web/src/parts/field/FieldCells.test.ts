/** @jest-environment jsdom */
import { mount } from '@vue/test-utils'
import type { CylinderField, Field } from '@yuzumix/core'
import { rulerScale } from '@/parts/chart/rulerScale'
import FieldCells from './FieldCells.vue'

const GRID = { loadAxis: 'throttle' as const, rpm: [2000, 3000, 4000], load: [10, 100] }
/** Lower row: solid, thin, bridged; upper row: held, held but told by trims, nothing. */
const CYLINDER = {
  cylinder: 1,
  changePct: [
    [4.2, -6, 1.5],
    [null, 2, null],
  ],
  lowPct: [
    [3.4, -8, -1],
    [null, 1, null],
  ],
  highPct: [
    [5, -4, 4],
    [null, 3, null],
  ],
  samples: [
    [120, 9, 0],
    [80, 80, 0],
  ],
  evidence: [
    ['solid', 'thin', 'bridged'],
    ['solid', 'solid', 'none'],
  ],
  held: [
    [false, false, false],
    [true, true, false],
  ],
  silentPct: [
    [null, null, null],
    [null, null, null],
  ],
  byTrim: [
    [false, false, false],
    [false, true, false],
  ],
} as unknown as CylinderField

function shown(over: { width?: number; method?: Field['method']; misfires?: object[]; cylinder?: CylinderField } = {}) {
  const cylinder = over.cylinder ?? CYLINDER
  const field = {
    grid: GRID,
    method: over.method ?? 'solve',
    cylinders: [cylinder],
    misfires: over.misfires ?? [],
  } as unknown as Field
  const nodes = mount(FieldCells, {
    props: {
      field,
      cylinder,
      x: rulerScale(GRID, over.width ?? 400),
      top: 0,
      height: 200,
      selected: null,
      dark: false,
    },
  })
  const at = (row: number, column: number) => nodes.findAll('.node')[row * GRID.rpm.length + column]!
  const side = (row: number, column: number): number =>
    Number(at(row, column).find('.square, .bridged').attributes('width'))
  return { nodes, at, side }
}

describe('the field by node', () => {
  it('says of each node what it is known by', () => {
    const { nodes } = shown()
    expect(nodes.findAll('title').map((one) => one.text().replace(/\u202f/g, ' '))).toEqual([
      '2 000 rpm, 10: +4.2 %, solid, 120 samples',
      '3 000 rpm, 10: −6.0 %, thin, 9 samples',
      '4 000 rpm, 10: +1.5 %, bridged, 0 samples',
      '2 000 rpm, 100: held by closed loop, not known',
      '3 000 rpm, 100: +2.0 %, solid, 80 samples, held by closed loop',
      '4 000 rpm, 100: no evidence',
    ])
  })
  it('gives half the area to an interval twice as wide, and none to what is not known', () => {
    const { side, at } = shown()
    // Half intervals of 0.8, 2 and 2.5 %: full up to 1.
    expect(side(0, 1) ** 2 / side(0, 0) ** 2).toBeCloseTo(1 / 2, 9)
    expect(side(0, 2) ** 2 / side(0, 0) ** 2).toBeCloseTo(1 / 2.5, 9)
    expect(at(1, 2).find('rect + .dot').exists()).toBe(true)
  })
  it('tells bridged nodes by their outline, held ones by hatching and never by a colour', () => {
    const { at } = shown()
    expect(at(0, 2).find('.bridged').attributes('stroke')).toBeTruthy()
    expect(at(0, 0).find('.square').attributes('stroke')).toBeUndefined()
    const hatched = (row: number, column: number): boolean => at(row, column).find('[fill="url(#held-hatch)"]').exists()
    expect([hatched(1, 0), hatched(1, 1), hatched(0, 0)]).toEqual([true, true, false])
    expect(at(1, 0).find('.square').attributes('fill')).toBe('#e9e6da')
    expect(at(1, 0).find('.number').text()).toBe('held')
    expect(at(1, 1).find('.square').attributes('fill')).not.toBe('#e9e6da')
  })
  it('marks a misfire instead of a figure', () => {
    const { at } = shown({ misfires: [{ cylinder: null, rows: [1], fromRpm: 3500, toRpm: 4500 }] })
    expect(at(1, 2).find('.number').text()).toBe('!')
    expect(at(1, 2).find('title').text()).toMatch(/misfire, no fuel/)
  })
  it('leaves out tenths, and words, where there is no room for them', () => {
    const wide = shown()
    const narrow = shown({ width: 130 })
    expect(wide.at(0, 0).find('.number').text()).toBe('+4.2')
    expect(narrow.at(0, 0).find('.number').text()).toBe('+4')
    expect(narrow.at(1, 0).find('.number').text()).toBe('')
  })
  it('is all of one size where the method tells no intervals', () => {
    const unknown = GRID.load.map(() => GRID.rpm.map(() => null))
    const { side } = shown({ method: 'nearest', cylinder: { ...CYLINDER, lowPct: unknown, highPct: unknown } })
    expect(side(0, 1)).toBe(side(0, 0))
    expect(side(0, 0)).toBeGreaterThan(0)
  })
  it('hands on which node was pressed, and frames the one that is looked at', async () => {
    const { nodes, at } = shown()
    await at(0, 1).trigger('click')
    expect(nodes.emitted('select')![0]).toEqual([expect.objectContaining({ row: 0, column: 1 })])
    expect(nodes.find('.selected').exists()).toBe(false)
    await nodes.setProps({ selected: { row: 1, column: 2 } })
    const frame = nodes.find('.selected').attributes()
    const node = at(1, 2).find('rect').attributes()
    expect([frame['x'], frame['y']]).toEqual([node['x'], node['y']])
  })
})

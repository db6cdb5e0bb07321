/** @jest-environment jsdom */
import { mount } from '@vue/test-utils'
import { createPinia } from 'pinia'
import type { CylinderField, Field, NodeChange, SuggestedChange, TableInfo } from '@yuzumix/core'
import CellPanel from './CellPanel.vue'

const GRID = { loadAxis: 'throttle' as const, rpm: [2000, 3000], load: [10, 50] }
const all = <T>(value: T): T[][] => GRID.load.map(() => GRID.rpm.map(() => value))
const INFO = {
  id: 't1',
  cylinder: null,
  table: { ...GRID, kind: 'fuel base', composition: 'multiply', values: all(10) },
} as unknown as TableInfo
const CYLINDER = {
  cylinder: 1,
  lambda: all(0.96),
  target: all(0.93),
  changePct: all(3.2),
  lowPct: all(2.6),
  highPct: all(3.8),
  evidence: [
    ['solid', 'bridged'],
    ['none', 'solid'],
  ],
  samples: [
    [120, 0],
    [0, 40],
  ],
  held: all(false),
  byTrim: all(false),
  undoPct: all(null),
  silentPct: all(null),
} as unknown as CylinderField
const NODE: NodeChange = {
  changePct: 3.2,
  reason: 'as estimated',
  bridged: false,
  before: 10,
  after: 10.32,
  arithmetic: [
    { what: 'measured', values: { lambda: 0.96, target: 0.93 }, result: 3.2 },
    { what: 'apply', values: { before: 10, change: 3.2 }, result: 10.32 },
  ],
}

function shown(
  over: { node?: Partial<NodeChange>; at?: { row: number; column: number }; value?: number; blank?: boolean } = {},
) {
  const field = { grid: GRID, method: 'solve', cylinders: [CYLINDER], misfires: [], heldZones: [] } as unknown as Field
  const suggested = { cylinder: null, nodes: all({ ...NODE, ...over.node }), values: all(10.32), predicted: all(0.93) }
  const panel = mount(CellPanel, {
    global: { plugins: [createPinia()] },
    props: {
      info: INFO,
      field: over.blank ? null : field,
      suggested: over.blank ? null : (suggested as SuggestedChange),
      since: [],
      at: over.at ?? { row: 0, column: 0 },
      value: over.value ?? 10,
    },
  })
  const said = Object.fromEntries(
    panel.findAll('dt').map((term, k) => [term.text(), panel.findAll('dd')[k]!.text().replace(/\s+/g, ' ')]),
  )
  return { panel, said }
}

describe('one cell of the change', () => {
  it('says where it is, what it holds, what is suggested and why, and what the next run shows', () => {
    const { panel, said } = shown()
    expect(panel.find('h2').text().replace(/\s+/g, ' ')).toBe('2 000 rpm · 10 %')
    expect(said['Saved']).toMatch(/^10\.00/)
    expect(said['Suggested']).toMatch(/^10\.32.* \(\+3\.2 %\)$/)
    expect(said['Why']).toBe('as estimated')
    expect(said['Next run shows']).toMatch(/^0\.96\d λ target 0\.93/)
    expect(said['Evidence']).toBe('solid, 120 samples')
    expect(panel.findAll('li').map((one) => one.find('.figures').text())).toEqual([
      '0.960 / 0.930 → +3.2 %',
      expect.stringMatching(/^10\.00 with \+3\.2 % → 10\.32/),
    ])
  })
  it('tells what an edit does to the fuel, and to what the next run shows', () => {
    const { said } = shown({ value: 10.5 })
    expect(said['Now']).toMatch(/^10\.50.* \(\+5\.0 % fuel\)$/)
    // Five per cent more fuel: 0.96 / 1.05.
    expect(said['Next run shows']).toMatch(/^0\.914/)
  })
  it('says of a cell between readings that it is, and of one that nothing tells nothing', () => {
    expect(shown({ at: { row: 0, column: 1 } }).said['Evidence']).toBe('bridged between readings')
    expect(shown({ at: { row: 1, column: 0 } }).said['Evidence']).toBeUndefined()
    const { said } = shown({ blank: true })
    expect(Object.keys(said)).toEqual(['Saved', 'Now'])
  })
  it.each([
    ['misfire, no fuel', 'leads, cap, plugs first'],
    ['taken back, a loop held it', 'as far as a pass may go'],
    ['held by closed loop', 'Correct its loop or its target instead'],
  ] as const)('explains "%s"', (reason, words) => {
    expect(shown({ node: { reason } }).panel.text().replace(/\s+/g, ' ')).toContain(words)
    expect(shown().panel.text().replace(/\s+/g, ' ')).not.toContain(words)
  })
})

import type { RollOnGroup } from '@yuzumix/core'
import { adviceText, estimateText, mainExcursion, stepText } from './groupWords'

test('advice names its direction, and by how much', () => {
  expect(adviceText({ what: 'more', pct: [7, 6, 8] })).toBe(
    'More acceleration fuel: 7.0 (6.0 to 8.0) % of the fuel at the opening.',
  )
  expect(adviceText({ what: 'less', pct: [3, 2, 4] })).toMatch(/^Less/)
  expect(adviceText({ what: 'slower', pct: [40, 20, 60] })).toMatch(/more slowly: 40 \(20 to 60\) % longer/)
  expect(adviceText({ what: 'quicker', pct: [40, 20, 60] })).toMatch(/more quickly.*shorter/)
  expect(adviceText({ what: 'none', pct: [0, 0, 0] })).toBe('No change beyond the spread.')
})

test('the excursion that stands out has its sign: what is missing is above zero', () => {
  const group = (lean: number, rich: number) =>
    ({ leanPct: [lean, lean, lean], richPct: [rich, rich, rich] }) as unknown as RollOnGroup
  expect(mainExcursion(group(5, 2))).toBe(5)
  expect(mainExcursion(group(1, 4))).toBe(-4)
  expect(estimateText([0.36, 0.3, 0.4], 2)).toBe('0.36 (0.30 to 0.40)')
  expect(stepText({ rpm: 4012, fromLoad: 6.6, toLoad: 39.8 })).toBe('4\u202f012 rpm, 7 to 40 %')
})

import { readBreakpoints } from './numbers/breakpointText'
import { counted, duration, fullText, grouped, plain, signed } from './numbers/format'
import { arithmeticLine } from './evidence/arithmeticLine'
import type { TableKind } from '@yuzumix/core'
import { previewEntry } from './table/entryWords'
import { useVirtualTyping } from './table/useTyping'

describe('numbers for people', () => {
  it('carry their sign, with a true minus', () => {
    expect([signed(1.26), signed(-1.26), signed(-0.04), signed(0)]).toEqual(['+1.3', '−1.3', '±0.0', '±0.0'])
    expect([plain(-2, 1), grouped(1234567), grouped(999)]).toEqual(['−2.0', '1\u202f234\u202f567', '999'])
  })
  it('show more figures where one cell is explained', () => {
    expect([fullText(124.43), fullText(1244.32), fullText(9.5)]).toEqual(['124.43', '1244.3', '9.50'])
  })
  it('count in words that agree', () => {
    expect([counted(1, 'run'), counted(0, 'run'), counted(12500, 'cell')]).toEqual([
      '1 run',
      '0 runs',
      '12\u202f500 cells',
    ])
  })
  it('tell durations', () => expect([duration(9.84), duration(125)]).toEqual(['9.8 s', '2 min 05 s']))
})

describe('breakpoints as typed', () => {
  it('are apart by blanks, commas or semicolons', () =>
    expect(readBreakpoints('rpm', ' 1000, 2000;3000 \n 4000')).toEqual({ points: [1000, 2000, 3000, 4000] }))
  it('say what is wrong', () => {
    expect(readBreakpoints('rpm', '1000 x')).toEqual({ fault: 'rpm "x" is not a number.' })
    expect(readBreakpoints('load', '10 5')).toEqual({ fault: 'load breakpoint 2 must be above the one before it.' })
  })
})

describe('typing over a selection', () => {
  it('gathers what is typed once it begins like a number, commits it whole, and drops nothing in silence', () => {
    const set: string[] = []
    const typing = useVirtualTyping((text) => set.push(text))
    expect(['l', 'e', 'Enter', ' '].map(typing.type)).toEqual([false, false, false, false])
    expect([...'*1e9 %'].map(typing.type)).not.toContain(false)
    expect(typing.typed.value).toBe('*1e9 %')
    typing.commit()
    typing.type('9')
    typing.type('Backspace')
    expect(typing.typed.value).toBe('')
    typing.commit()
    typing.type('7')
    typing.drop()
    typing.commit()
    expect(set).toEqual(['*1e9 %'])
  })
})

describe('what Enter will do', () => {
  const words = (text: string, kind: TableKind = 'fuel base', cells = [100]): string =>
    previewEntry(text, kind, cells, (value) => plain(value, 1)).words
  it.each([
    ['+22', 'Enter: +22 % of fuel 100.0 → 122.0'],
    ['-2.5', 'Enter: −2.5 % of fuel 100.0 → 97.5'],
    ['*1.1', 'Enter: times 1.1 100.0 → 110.0'],
    ['=22', 'Enter: sets 22 100.0 → 22.0'],
    ['+', 'A number is missing after "+". Enter changes nothing.'],
    ['1e9', 'A cell would be 1000000000; a fuel base table takes 0 to 100\u202f000. Enter changes nothing.'],
  ])('%s', (text, told) => expect(words(text)).toBe(told))
  it('is told for all cells of a selection, and in the unit of the table', () => {
    expect(words('+5', 'fuel trim', [8, 9])).toBe('Enter: +5 points in 2 cells, the first 8.0 → 13.0')
    expect(words('-1.5', 'spark base', [20])).toBe('Enter: −1.5 ° 20.0 → 18.5')
  })
})

it('arithmetic is written as plain sums', () => {
  const mixture = (lambda: number): string => lambda.toFixed(3)
  const line = (step: Parameters<typeof arithmeticLine>[0]): string => arithmeticLine(step, '%', mixture).sum
  expect(line({ what: 'measured', values: { lambda: 1, target: 0.9 }, result: 11.11 })).toBe('1.000 / 0.900 → +11.1 %')
  expect(line({ what: 'shrink', values: { change: 8, share: 0.5, half: 13 }, result: 4 })).toBe('+8.0 × 0.50 = +4.0 %')
  expect(line({ what: 'limit', values: { change: 22, limit: 15 }, result: 15, reason: 'limited, richer' })).toBe(
    '+22.0 → +15.0 %',
  )
  expect(line({ what: 'apply', values: { before: 109, change: 17 }, result: 127.53 })).toBe(
    '109.00 with +17.0 % → 127.53 %',
  )
  expect(line({ what: 'stay', values: {}, result: 5, reason: 'no evidence' })).toBe('stays 5.00 %')
})

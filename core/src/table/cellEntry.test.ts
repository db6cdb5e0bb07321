import { readEntry, takeEntry } from './cellEntry'
import type { TableKind } from './table'

const result = (text: string, kind: TableKind, cell: number): number | string => {
  const entry = readEntry(text, kind)
  return 'fault' in entry ? entry.fault : Number(takeEntry(entry, cell).toFixed(9))
}

describe('typed over a cell of 100 of a fuel base table', () => {
  it.each([
    ['+22', 122],
    ['+22%', 122],
    ['+22 %', 122],
    ['-5', 95],
    ['−5 %', 95],
    ['+2,5', 102.5],
    ['*1.1', 110],
    ['×1,1', 110],
    ['/1.25', 80],
    ['=22', 22],
    ['22', 22],
    ['22,5', 22.5],
    [' 22 ', 22],
    ['= 0', 0],
    ['1e3', 1000],
  ])('%s', (text, after) => expect(result(text, 'fuel base', 100)).toBe(after))
})

describe('typed over a cell of 8 of a trim, or of degrees', () => {
  it.each([
    ['fuel trim', '+5', 13],
    ['fuel trim', '-5 %', 3],
    ['fuel trim', '12 %', 12],
    ['fuel trim', '=-3', -3],
    ['spark base', '+1.5', 9.5],
    ['spark trim', '-1,5', 6.5],
    ['lambda target', '+0.01', 8.01],
    ['fuel trim', '*2', 16],
  ] as const)('%s: %s', (kind, text, after) => expect(result(text, kind, 8)).toBe(after))
})

describe('what is no entry says why', () => {
  it.each([
    ['+', /missing after "\+"/],
    ['*', /missing after "\*"/],
    ['=', /missing after "="/],
    ['', /missing/],
    ['--3', /Two signs/],
    ['+-3', /Two signs/],
    ['*-2', /Two signs/],
    ['**2', /enough/],
    ['==2', /enough/],
    ['1,2,3', /not a number/],
    ['1.2.3', /not a number/],
    ['12x', /not a number/],
    ['+1e', /not a number/],
    ['22 %', /Say \+22 %/],
    ['/0', /divided by 0/],
    ['-100', /all the fuel/],
    ['0x10', /not a number/],
  ])('%s', (text, fault) => expect(result(text, 'fuel base', 100)).toMatch(fault))
})

import { Refusal } from '../refusal/refusal'
import { readNumber } from '../numbers/typed'
import { csvText, plainCell } from '../numbers/csvText'
import Papa from 'papaparse'
import { EMPTY_BOX, SLOTS, type Box, type Fitted } from './carburettor'
import { needleFault } from './model/needle'

/** What of the fitted stands in the file. */
const RECORDED = [...SLOTS, 'floatHeight'] as const
const HEADER = ['what', 'name', 'value', 'value 2']

/**
 * Parts at hand and what is fitted as CSV: `what` is a slot or `fitted`; needles stand place by place (name, mm, diameter),
 * rods with both diameters.
 */
export function partsToCsv(box: Box, fitted: Fitted): string {
  const rows: (string | number)[][] = [
    ...box.main.map((size) => ['main', '', size, '']),
    ...box.pilot.map((size) => ['pilot', '', size, '']),
    ...box.cutaway.map((size) => ['cutaway', '', size, '']),
    ...box.springs.map((size) => ['spring', '', size, '']),
    ...box.needles.flatMap(({ name, points }) =>
      points.length ? points.map(({ at, diameter }) => ['needle', name, at, diameter]) : [['needle', name, '', '']],
    ),
    ...box.rods.map(({ name, cruise, power }) => ['rod', name, cruise, power]),
    ...RECORDED.flatMap((slot) => (fitted[slot] === undefined ? [] : [['fitted', slot, fitted[slot], '']])),
  ]
  return csvText([HEADER, ...rows])
}

/**
 * Reads what `partsToCsv` wrote, or a list made by hand.
 *
 * @throws Refusal 'no-parts' naming the line
 */
export function partsFromCsv(text: string): { box: Box; fitted: Fitted } {
  const rows = Papa.parse<string[]>(text.replace(/^\uFEFF/, '').trim(), { skipEmptyLines: false }).data
  const box: Box = structuredClone(EMPTY_BOX)
  const fitted: Record<string, number | string> = {}
  rows.forEach((cells, k) => {
    const [what = '', name = '', first = '', second = ''] = cells.map((cell) => plainCell(cell.trim()))
    if (what === '' || (k === 0 && what.toLowerCase() === 'what')) return
    const number = (cell: string): number => {
      const value = readNumber(cell)
      if (cell === '' || !Number.isFinite(value) || value < 0)
        throw new Refusal('no-parts', `"${cell.slice(0, 20)}" is no size.`, [
          { message: `"${cell.slice(0, 20)}" is no size.`, line: k + 1 },
        ])
      return value
    }
    switch (what) {
      case 'main':
      case 'pilot':
      case 'cutaway':
        box[what].push(number(first))
        return
      case 'spring':
        box.springs.push(number(first))
        return
      case 'needle': {
        const known = box.needles.find((one) => one.name === name)
        if (first === '' && !known) {
          box.needles.push({ name, points: [] })
          return
        }
        const point = { at: number(first), diameter: number(second) }
        if (known) known.points = [...known.points, point]
        else box.needles.push({ name, points: [point] })
        return
      }
      case 'rod':
        box.rods.push({ name, cruise: number(first), power: number(second) })
        return
      case 'fitted':
        if (!(RECORDED as readonly string[]).includes(name))
          throw new Refusal('no-parts', `There is no slot "${name.slice(0, 20)}".`, [
            { message: `There is no slot "${name.slice(0, 20)}".`, line: k + 1 },
          ])
        fitted[name] = name === 'needle' || name === 'rod' ? first : number(first)
        return
      default:
        throw new Refusal('no-parts', `"${what.slice(0, 20)}" is no kind of part.`, [
          { message: `"${what.slice(0, 20)}" is no kind of part.`, line: k + 1 },
        ])
    }
  })
  for (const needle of box.needles) {
    const fault = needleFault(needle)
    if (fault)
      throw new Refusal('no-parts', fault, [
        { message: fault, line: 1 + rows.findIndex((cells) => cells[0] === 'needle' && cells[1] === needle.name) },
      ])
  }
  return { box, fitted: fitted as Fitted }
}

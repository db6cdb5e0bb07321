import type { Figure, RecordLine, Report } from '../contract/report'
import { counted, plain, signed } from '../numbers/format'
import { unitIn } from './reportUnits'
import type { Units } from '../words/units'

/** A figure with its unit, sign and interval. */
export function figureWords({ value, unit, low, high }: Figure, units: Units): string {
  const { name, factor } = unitIn(unit, units)
  const span = low !== null && high !== null ? ` [${signed(low * factor)}, ${signed(high * factor)}]` : ''
  return `${signed(value * factor)} ${name}${span}`
}
/** Where on the pages a figure is to be found, by the call that answers it. */
const PAGES: [RegExp, string][] = [
  [/\/compare$/, 'Baseline, Compare'],
  [/\/flatness$/, 'Mixture'],
  [/\/moved/, 'Change, Revisions'],
]
export const pageOf = ({ from }: Figure): string => PAGES.find(([path]) => path.test(from.path))?.[1] ?? ''

/** A moment as people write it: day and minute, where it is read. */
export function moment(at: string): string {
  const date = new Date(at)
  const two = (value: number): string => String(value).padStart(2, '0')
  return `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())} ${two(date.getHours())}:${two(date.getMinutes())}`
}

/** What a line of the record shows or moved. */
export function shownBy({ kind, zones, typical, worst, where, weather }: RecordLine, units: Units): string {
  const words = (figure: Figure): string => figureWords(figure, units)
  if (kind === 'runs')
    return [
      typical ? `${plain(typical.value, 1)} % off target, typically` : 'no mixture to judge by',
      worst && `at worst ${words(worst)} at ${where}`,
      `air: ${weather || 'not noted'}`,
    ]
      .filter(Boolean)
      .join('; ')
  if (kind === 'change')
    return zones.length
      ? zones
          .map(
            ({ zone, cells, largest, typical: mean }) =>
              `${zone}${cells ? `, ${counted(cells, 'cell')}` : ''}: ${words(mean)} on average, at most ${words(largest)}`,
          )
          .join('; ')
      : 'no cell moved'
  return weather && `air: ${weather}`
}

/** Names of runs, those that differ only in their number together. */
export const namesOf = (runs: readonly string[]): string => (runs.length ? ` (${runs.join(', ')})` : '')

/** The mixture aimed at, as who reads it is used to. */
export function aimWords({ least, most, gaugeScale }: NonNullable<Report['wanted']>, { mixture }: Units): string {
  const span = (digits: number, factor: number): string => {
    const [low, high] = [least, most].map((one) => plain(one * factor, digits))
    return low === high ? low! : `${low} to ${high}`
  }
  return mixture === 'AFR'
    ? `AFR ${span(1, gaugeScale)} on a gauge that shows ${plain(gaugeScale, 2)} at lambda 1`
    : `lambda ${span(2, 1)}`
}

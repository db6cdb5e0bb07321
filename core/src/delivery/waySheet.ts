import { csvText } from '../numbers/csvText'
import type { BesideSettings, Cells, SettingsOf, WayKind } from './ways'
import type { WayTaken } from './typedSettings'

/** A line of a settings sheet: what, where on either axis, the value, its unit. */
type Line = readonly [what: string, rpm: number | '', load: number | '', value: number, unit: string]

const cells = (what: string, { rpm, load, values }: Cells, unit = '%'): Line[] =>
  load.flatMap((at, row) => rpm.map((speed, column): Line => [what, speed, at, values[row]![column]!, unit]))
const beside = (table: BesideSettings | undefined): Line[] => (table ? cells('table beside', table) : [])

/**
 * The numbers of a way as a sheet to type them from: CSV with a line a number.
 *
 * @returns `what,rpm,load,value,unit`; a place that does not matter is empty
 * @example
 * waySheet({ asked: { kind: 'global' }, settings: { pct: 3 } }).split('\n')[1] // 'percent everywhere,,,3,%'
 */
export function waySheet({ asked, settings }: WayTaken): string {
  const of: { [K in WayKind]: (one: SettingsOf[K]) => Line[] } = {
    table: (one) => cells('change', one),
    coarse: (one) => cells('point', one),
    bands: ({ axis, edges, values, crossover, table }) => [
      ...values.map((value, k): Line => [`band ${k + 1}`, '', '', value, '%']),
      ...edges.map((edge, k): Line => [`edge ${k + 1}`, ...placeOn(axis, edge), edge, axis === 'rpm' ? 'rpm' : 'load']),
      ['crossover', '', '', crossover, axis === 'rpm' ? 'rpm' : 'load'],
      ...beside(table),
    ],
    strips: ({ threshold, rpm, low, high }) => [
      ['threshold', '', threshold, threshold, 'load'],
      ...rpm.map((speed, k): Line => ['below the threshold', speed, '', low[k]!, '%']),
      ...rpm.map((speed, k): Line => ['from the threshold up', speed, '', high[k]!, '%']),
    ],
    global: ({ pct, table }) => [['percent everywhere', '', '', pct, '%'], ...beside(table)],
    pressure: ({ kPa }) => [['rail pressure', '', '', kPa, 'kPa']],
    injectors: ({ pulseFactor, deadMsChange }) => [
      ['pulse apart from its dead time, times', '', '', pulseFactor, ''],
      ['dead time changes by', '', '', deadMsChange, 'ms'],
    ],
    filling: ({ filling, target }) => [
      ...cells('filling changes by', filling),
      ...(target ? cells('commanded lambda', target, 'λ') : []),
    ],
  }
  const lines = (of[asked.kind] as (one: SettingsOf[WayKind]) => Line[])(settings)
  return csvText([['what', 'rpm', 'load', 'value', 'unit'], ...lines])
}

const placeOn = (axis: 'rpm' | 'load', at: number): [number | '', number | ''] => (axis === 'rpm' ? [at, ''] : ['', at])

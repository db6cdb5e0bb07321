import { percentFromFactor } from '../fuel/mixture'
import { build, type LoadGrid, type Table } from '../table/table'
import { givenOf } from './givenOf'
import type { AskedOf, SettingsOf, WayKind } from './ways'

/** How a way's table is called. */
const NAMES: Readonly<Record<WayKind, string>> = {
  table: 'Table',
  coarse: 'Coarse table',
  bands: 'Bands',
  strips: 'Two strips',
  global: 'Global trim',
  pressure: 'Fuel pressure',
  injectors: 'Injectors',
}
export const nameOfWay = (kind: WayKind): string => NAMES[kind]

/**
 * What the numbers of a way do to the fuel, as a percent trim: on its own breakpoints where it has such, else on those of the
 * change that was wanted. What a table beside it does stands in that table.
 *
 * @param grid breakpoints of the change that was wanted
 */
export function tableOfWay<K extends WayKind>(grid: LoadGrid, asked: AskedOf<K>, settings: SettingsOf[K]): Table {
  const own: LoadGrid =
    asked.kind === 'coarse'
      ? { ...placesOf(settings as SettingsOf['coarse']), loadAxis: grid.loadAxis }
      : { rpm: grid.rpm, load: grid.load, loadAxis: grid.loadAxis }
  const given = givenOf(asked, withoutTable(settings))
  return {
    ...own,
    kind: 'fuel trim',
    composition: 'multiply',
    values: build(own, (row, column) => Number(percentFromFactor(given(own.rpm[column]!, own.load[row]!)).toFixed(6))),
  }
}

const placesOf = ({ rpm, load }: SettingsOf['coarse']): { rpm: number[]; load: number[] } => ({
  rpm: [...rpm],
  load: [...load],
})

function withoutTable<Settings extends object>(settings: Settings): Settings {
  return { ...settings, table: undefined }
}

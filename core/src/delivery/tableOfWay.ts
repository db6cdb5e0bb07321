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
  filling: 'Filling and commanded lambda',
}
export const nameOfWay = (kind: WayKind): string => NAMES[kind]

/**
 * What the numbers of a way do to the fuel on some breakpoints, as a percent trim. What a table beside it does stands in that
 * table.
 */
export function effectOfWay<K extends WayKind>(grid: LoadGrid, asked: AskedOf<K>, settings: SettingsOf[K]): Table {
  const { rpm, load, loadAxis } = grid
  const given = givenOf(asked, withoutTable(settings))
  return {
    ...{ rpm, load, loadAxis },
    kind: 'fuel trim',
    composition: 'multiply',
    values: build(grid, (row, column) => Number(percentFromFactor(given(rpm[column]!, load[row]!)).toFixed(6))),
  }
}

/**
 * The table that a way becomes: on its own breakpoints where it has such, else on those of the change that was wanted.
 *
 * @param grid breakpoints of the change that was wanted
 */
export function tableOfWay<K extends WayKind>(grid: LoadGrid, asked: AskedOf<K>, settings: SettingsOf[K]): Table {
  if (asked.kind !== 'coarse') return effectOfWay(grid, asked, settings)
  const { rpm, load } = settings as SettingsOf['coarse']
  return effectOfWay({ rpm: [...rpm], load: [...load], loadAxis: grid.loadAxis }, asked, settings)
}

function withoutTable<Settings extends object>(settings: Settings): Settings {
  return { ...settings, table: undefined }
}

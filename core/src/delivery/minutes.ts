import type { SettingsOf, WayKind } from './ways'

/** Minutes to put a way in by hand. Judgement from common practice: they order ways, no more. */
const A_VALUE = 5 / 60
const A_PLACE = 10 / 60
const OPEN_THE_PAGE = 1
const A_PRESSURE = 20
const A_SET_OF_INJECTORS = 90

const cellsOf = (values: readonly (readonly number[])[]): number =>
  values.flat().filter((one) => Math.abs(one) >= 0.05).length

/** Minutes that a way takes by hand: values typed, places moved, parts fitted. */
export function minutesOf<K extends WayKind>(kind: K, settings: SettingsOf[K]): number {
  const of: { [Kind in WayKind]: (one: SettingsOf[Kind]) => number } = {
    table: ({ values }) => A_VALUE * cellsOf(values),
    coarse: ({ rpm, load, values }) => A_PLACE * (rpm.length + load.length) + A_VALUE * values.flat().length,
    bands: ({ edges, values, table }) => A_PLACE * edges.length + A_VALUE * (values.length + (table?.cells ?? 0)),
    strips: ({ rpm, low, high }) => A_PLACE * (rpm.length + 1) + A_VALUE * (low.length + high.length),
    global: ({ table }) => A_VALUE * (1 + (table?.cells ?? 0)),
    pressure: () => A_PRESSURE,
    injectors: () => A_SET_OF_INJECTORS,
    filling: ({ filling, target }) => A_VALUE * (cellsOf(filling.values) + (target?.values.flat().length ?? 0)),
  }
  return OPEN_THE_PAGE + of[kind](settings)
}

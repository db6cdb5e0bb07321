import type { AskedOf, BesideSettings, SettingsOf, WayKind } from './ways'

/** Decimals of percents that controllers take, and of degrees of pressure, kPa. Common practice. */
const STEP_PCT = 0.1

const near = (value: number): number => Math.round(value / STEP_PCT) / (1 / STEP_PCT)
/** Up to the next step: what keeps full load from running lean is not rounded away. */
const up = (value: number): number => Math.ceil(value / STEP_PCT - 1e-6) / (1 / STEP_PCT)
/** A commanded lambda, to three decimals: down, which is richer. */
const lambda = (value: number): number => Math.floor(value * 1000 + 1e-6) / 1000
const rows = (values: readonly (readonly number[])[]): number[][] => values.map((cells) => cells.map(near))
const beside = (table: BesideSettings | undefined): { table?: BesideSettings } =>
  table ? { table: { ...table, values: rows(table.values) } } : {}

/**
 * The numbers of a way as they are typed in: percents in tenths, pressure in whole kPa. Those that keep cells under load from
 * running lean go up.
 */
export function typedSettings<K extends WayKind>(kind: K, settings: SettingsOf[K]): SettingsOf[K] {
  const of: { [Kind in WayKind]: (one: SettingsOf[Kind]) => SettingsOf[Kind] } = {
    table: (one) => ({ ...one, values: rows(one.values) }),
    coarse: (one) => ({ ...one, values: rows(one.values) }),
    bands: ({ table, ...one }) => ({ ...one, values: one.values.map(table ? near : up), ...beside(table) }),
    strips: (one) => ({ ...one, low: one.low.map(near), high: one.high.map(near) }),
    global: ({ pct, table }) => ({ pct: (table ? near : up)(pct), ...beside(table) }),
    pressure: ({ kPa }) => ({ kPa: Math.ceil(kPa - 1e-6) }),
    injectors: (one) => one,
    filling: ({ filling, target }) => ({
      filling: { ...filling, values: rows(filling.values) },
      target: target && { ...target, values: target.values.map((cells) => cells.map(lambda)) },
    }),
  }
  return of[kind](settings)
}

/** What a way is asked with, without the table it names and the numbers that stood in it. */
type PlainWay<K extends WayKind = WayKind> = K extends WayKind
  ? Omit<AskedOf<K>, 'table' | 'commanded' | 'standing'>
  : never

/** A way that was put in: what it was asked with, and its numbers. */
export type WayTaken = { [K in WayKind]: { asked: PlainWay<K>; settings: SettingsOf[K] } }[WayKind]

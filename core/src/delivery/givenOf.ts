import { factorFromPercent } from '../fuel/mixture'
import { givenByBands } from './bands'
import { givenByFilling } from './filling'
import { givenByTable } from './fitTable'
import { BEGINS_RICHER } from './injectors'
import type { Given } from './left'
import { factorOfPressure } from './pressure'
import { givenByStrips } from './strips'
import { givenByWhole } from './wholeTable'
import type { AskedOf, BesideSettings, SettingsOf, WayKind } from './ways'

/** What a table beside a way gives on top of it. */
const withTable = (given: Given, table: BesideSettings | undefined): Given => {
  if (!table) return given
  const beside = givenByWhole(table)
  return (rpm, load) => given(rpm, load) * beside(rpm, load)
}

/** Factor on the fuel that the numbers of a way give, by speed and load. */
export function givenOf<K extends WayKind>(asked: AskedOf<K>, settings: SettingsOf[K]): Given {
  const of: { [Kind in WayKind]: (way: AskedOf<Kind>, one: SettingsOf[Kind]) => Given } = {
    table: ({ table }, one) => givenByWhole(one, table),
    coarse: (_, one) => givenByTable(one),
    bands: (_, one) => withTable(givenByBands(one), one.table),
    strips: (_, one) => givenByStrips(one),
    global: (_, { pct, table }) => withTable(() => factorFromPercent(pct), table),
    pressure: ({ kPa: before, manifoldKpa }, { kPa }) => {
      const factor = factorOfPressure(kPa, before, manifoldKpa)
      return () => factor
    },
    injectors: () => () => BEGINS_RICHER,
    filling: (way, one) => givenByFilling(way, one),
  }
  return of[asked.kind as K](asked, settings)
}

/** Factor that the numbers give which stand in a way already; null where there is no such way yet. */
export function standingOf<K extends WayKind>(asked: AskedOf<K>): Given | null {
  const standing = 'standing' in asked ? (asked.standing as SettingsOf[K] | undefined) : undefined
  return standing ? givenOf(asked, standing) : null
}

import { factorFromPercent } from '../fuel/mixture'
import { fewestCells, leftForTable } from './besideTable'
import { fitBands, givenByBands } from './bands'
import { fitCoarse } from './coarse'
import { standingOf } from './givenOf'
import { fitFilling, withIntent } from './filling'
import { fitGlobal } from './global'
import { pulseFactor, rescaledTable, tableDuty } from './injectors'
import { judgeWay, type Found } from './judgeWay'
import type { Given } from './left'
import { onTop } from './onTop'
import { pressureFor } from './pressure'
import { fitStrips } from './strips'
import type { Wanted } from './wanted'
import { asWanted, fitWholeTable } from './wholeTable'
import type { AskedOf, BesideSettings, SettingsOf, ToldWay, WayAsked, WayKind, WayTold } from './ways'

/**
 * The numbers of one way for a wanted change, what it would leave wrong between cells, too, and what has to be said of it. Where
 * numbers stand in that way already, those that come out are whole: what stands there times what is wanted.
 *
 * @param onProgress share that is done; only a coarse table takes long
 * @throws RangeError when nothing is wanted, a table does not set fuel, or a pulse is over before the injector opens
 * @example
 * const { settings, left } = answerWay(wanted, { kind: 'coarse', rpmPoints: 6, loadPoints: 6 })
 */
export function answerWay(wanted: Wanted, asked: WayAsked, onProgress?: (share: number) => void): WayTold {
  const answer = <K extends WayKind>(
    way: AskedOf<K>,
    find: (whole: Wanted, way: AskedOf<K>) => Found<K>,
  ): ToldWay<K> => {
    const whole = wholeOf(wanted, way)
    return judgeWay(whole, way, find(whole, way))
  }
  switch (asked.kind) {
    case 'table':
      return answer(asked, byTable)
    case 'coarse':
      return answer(asked, (whole, way) => byCoarse(whole, way, onProgress))
    case 'bands':
      return answer(asked, byBands)
    case 'strips':
      return answer(asked, (whole, { threshold, rpm }) => ({ settings: fitStrips(whole, threshold, rpm) }))
    case 'global':
      return answer(asked, byGlobal)
    case 'pressure':
      return answer(asked, byPressure)
    case 'injectors':
      return answer(asked, (_, way) => byInjectors(way))
    case 'filling':
      return answer(asked, (_, way) => ({ settings: fitFilling(wanted, way) }))
  }
}

/** All that a way is to give: what is wanted, on top of what stands in it already, with what is intended beside it. */
export function wholeOf<K extends WayKind>(wanted: Wanted, way: AskedOf<K>): Wanted {
  const whole = onTop(wanted, standingOf(way))
  const asked: WayAsked = way
  return asked.kind === 'filling' ? withIntent(whole, asked) : whole
}

function byTable(wanted: Wanted, { table }: AskedOf<'table'>): Found<'table'> {
  return { settings: table ? fitWholeTable(wanted, table) : asWanted(wanted) }
}

function byCoarse(wanted: Wanted, way: AskedOf<'coarse'>, onProgress?: (share: number) => void): Found<'coarse'> {
  const { table, points } = fitCoarse(wanted, way, onProgress)
  const { rpm, load, values } = table
  return { settings: { rpm, load, values }, points }
}

/** What a table beside a way still has to do where the way is not close enough. */
function besides({ rpm, load, ...wanted }: Wanted, given: Given): BesideSettings {
  return { rpm, load, ...leftForTable({ rpm, load, ...wanted }, given) }
}

function byBands(wanted: Wanted, { axis, bands, edges, crossover = 0, table }: AskedOf<'bands'>): Found<'bands'> {
  if (!table) {
    const { ruled, free } = fitBands(wanted, { axis, bands, edges, crossover })
    return { settings: ruled, free }
  }
  const fewest = fewestCells(wanted, axis, { bands, edges, crossover })
  return { settings: { ...fewest, table: besides(wanted, givenByBands(fewest)) } }
}

function byGlobal(wanted: Wanted, { table }: AskedOf<'global'>): Found<'global'> {
  if (!table) {
    const { ruled, free } = fitGlobal(wanted)
    return { settings: ruled, free }
  }
  const pct = fewestCells(wanted, 'rpm', { bands: 1, crossover: 0 }).values[0]!
  return { settings: { pct, table: besides(wanted, () => factorFromPercent(pct)) } }
}

function byPressure(wanted: Wanted, { kPa, manifoldKpa }: AskedOf<'pressure'>): Found<'pressure'> {
  const { ruled, free } = fitGlobal(wanted)
  const at = ({ pct }: { pct: number }): SettingsOf['pressure'] => ({
    kPa: pressureFor(factorFromPercent(pct), kPa, manifoldKpa),
  })
  return { settings: at(ruled), free: at(free) }
}

function byInjectors({ table, ...swap }: AskedOf<'injectors'>): Found<'injectors'> {
  const pulses = table ? rescaledTable(table, swap) : null
  return {
    settings: {
      pulseFactor: pulseFactor(swap),
      deadMsChange: swap.to.deadMs - swap.from.deadMs,
      dutyPct: table && pulses ? tableDuty(table, pulses) : null,
      pulses,
    },
  }
}

import { factorFromPercent } from '../fuel/mixture'
import { fitBands, givenByBands } from './bands'
import { fewestCells, leftForTable } from './besideTable'
import type { Bands } from './bandValues'
import type { Caution } from './cautions'
import { fitCoarse } from './coarse'
import { givenByTable } from './fitTable'
import { fitGlobal, type GlobalTrim } from './global'
import { BEGINS_RICHER, MOST_DUTY, pulseFactor, rescaledTable, tableDuty } from './injectors'
import { givenAt, leftOf, residualPct, type Given, type Left } from './left'
import { minutesOf } from './minutes'
import { pointsOf } from './points'
import { factorOfPressure, pressureFor } from './pressure'
import { fitStrips, givenByStrips } from './strips'
import { MOST_LEAN, HIGH_LOAD, type Wanted } from './wanted'
import { asWanted, fitWholeTable, givenByWhole } from './wholeTable'
import type { BesideSettings, PointsTold, SettingsOf, ToldWay, WayAsked, WayKind, WayTold } from './ways'

/** A way before what it leaves is judged. */
interface Found<K extends WayKind> {
  settings: SettingsOf[K]
  given: Given
  free?: { settings: SettingsOf[K]; given: Given }
  cautions?: Caution[]
  points?: PointsTold
}

/**
 * The numbers of one way for a wanted change, what it would leave wrong between cells, too, and what has to be said of it.
 *
 * @param onProgress share that is done; only a coarse table takes long
 * @throws RangeError when nothing is wanted, a table does not set fuel, or a pulse is over before the injector opens
 * @example
 * const { settings, left } = answerWay(wanted, { kind: 'coarse', rpmPoints: 6, loadPoints: 6 })
 */
export function answerWay(wanted: Wanted, asked: WayAsked, onProgress?: (share: number) => void): WayTold {
  switch (asked.kind) {
    case 'table':
      return told(wanted, 'table', byTable(wanted, asked))
    case 'coarse':
      return told(wanted, 'coarse', byCoarse(wanted, asked, onProgress))
    case 'bands':
      return told(wanted, 'bands', byBands(wanted, asked))
    case 'strips': {
      const settings = fitStrips(wanted, asked.threshold, asked.rpm)
      return told(wanted, 'strips', { settings, given: givenByStrips(settings) })
    }
    case 'global':
      return told(wanted, 'global', byGlobal(wanted, asked))
    case 'pressure':
      return told(wanted, 'pressure', byPressure(wanted, asked))
    case 'injectors':
      return told(wanted, 'injectors', byInjectors(asked))
  }
}

type Asked<K extends WayKind> = Extract<WayAsked, { kind: K }>

function told<K extends WayKind>(wanted: Wanted, kind: K, found: Found<K>): ToldWay<K> {
  const points = pointsOf(wanted)
  const judge = (given: Given): Left => leftOf(points, givenAt(points, given))
  const left = judge(found.given)
  const free = found.free && { settings: found.free.settings, left: judge(found.free.given) }
  return {
    kind,
    settings: found.settings,
    left,
    residualPct: residualPct(wanted, found.given),
    cautions: [
      ...(found.cautions ?? []),
      ...usualCautions(judge, left, free?.left, worstUnderLoad(wanted, found.given)),
    ],
    ...(free && { free }),
    ...(found.points && { points: found.points }),
    minutes: minutesOf(kind, found.settings),
  }
}

/** A rule that costs less than this, %, is not worth a word. */
const WORTH_TELLING = 0.05

function usualCautions(
  judge: (given: Given) => Left,
  left: Left,
  free: Left | undefined,
  underLoad: Left['worstLean'] | null,
): Caution[] {
  const nothing = judge(() => 1)
  const cautions: Caution[] = []
  // A rule is what makes a way worse than nothing; other ways are chosen to be better, or are a change of parts.
  if (free && left.costPct > nothing.costPct + 1e-9)
    cautions.push({ code: 'worse than nothing', costPct: left.costPct, nothingPct: nothing.costPct })
  if (free && left.costPct - free.costPct > WORTH_TELLING)
    cautions.push({ code: 'rule costs', costPct: left.costPct, freePct: free.costPct })
  if (underLoad && underLoad.pct > 100 * MOST_LEAN + 1e-6) cautions.push({ code: 'lean under load', worst: underLoad })
  return cautions
}

/** The leanest place under load, between cells, too; null where nothing is known there. */
function worstUnderLoad(wanted: Wanted, given: Given): Left['worstLean'] | null {
  const points = pointsOf(wanted)
  const gives = givenAt(points, given)
  let worst: Left['worstLean'] | null = null
  points.factor.forEach((factor, k) => {
    const [rpm, load] = [points.rpm[points.column[k]!]!, points.load[points.row[k]!]!]
    const pct = 100 * (factor / gives[k]! - 1)
    if (load >= HIGH_LOAD && (worst === null || pct > worst.pct)) worst = { pct, rpm, load }
  })
  return worst
}

function byTable(wanted: Wanted, { table }: Asked<'table'>): Found<'table'> {
  const settings = table ? fitWholeTable(wanted, table) : asWanted(wanted)
  return { settings, given: givenByWhole(settings, table) }
}

function byCoarse(wanted: Wanted, asked: Asked<'coarse'>, onProgress?: (share: number) => void): Found<'coarse'> {
  const { table, points } = fitCoarse(wanted, asked, onProgress)
  const { rpm, load, values } = table
  return { settings: { rpm, load, values }, given: givenByTable(table), points }
}

/** A way and the table beside it: what the table still has to do where the way is not close enough. */
function withTable(wanted: Wanted, given: Given): { table: BesideSettings; given: Given } {
  const { values, cells } = leftForTable(wanted, given)
  const { rpm, load } = wanted
  const beside = givenByWhole({ rpm, load, values })
  return { table: { rpm, load, values, cells }, given: (at, up) => given(at, up) * beside(at, up) }
}

function byBands(wanted: Wanted, asked: Asked<'bands'>): Found<'bands'> {
  if (asked.table) {
    const bands = fewestCells(wanted, asked.axis, { ...asked, crossover: asked.crossover ?? 0 })
    const { table, given } = withTable(wanted, givenByBands(bands))
    return { settings: { ...bands, table }, given }
  }
  const { ruled, free } = fitBands(wanted, asked)
  const found = (one: Bands) => ({ settings: one, given: givenByBands(one) })
  return { ...found(ruled), free: found(free) }
}

function byGlobal(wanted: Wanted, { table: beside }: Asked<'global'>): Found<'global'> {
  const found = ({ pct }: GlobalTrim): { settings: SettingsOf['global']; given: Given } => ({
    settings: { pct },
    given: () => factorFromPercent(pct),
  })
  if (beside) {
    const [pct] = fewestCells(wanted, 'rpm', { bands: 1, crossover: 0 }).values
    const { table, given } = withTable(wanted, () => factorFromPercent(pct!))
    return { settings: { pct: pct!, table }, given }
  }
  const { ruled, free } = fitGlobal(wanted)
  return { ...found(ruled), free: found(free) }
}

/** Share of the most that a pump holds from which little is in reserve. Common practice. */
const NEARLY = 0.95

function byPressure(wanted: Wanted, { kPa, manifoldKpa = 0, mostKpa }: Asked<'pressure'>): Found<'pressure'> {
  const { ruled, free } = fitGlobal(wanted)
  const found = ({ pct }: GlobalTrim): { settings: SettingsOf['pressure']; given: Given } => ({
    settings: { kPa: pressureFor(factorFromPercent(pct), kPa, manifoldKpa) },
    given: () => factorFromPercent(pct),
  })
  const wantedKpa = found(ruled).settings.kPa
  const cautions: Caution[] =
    mostKpa === undefined || wantedKpa <= NEARLY * mostKpa
      ? []
      : wantedKpa <= mostKpa
        ? [{ code: 'near the pump', kPa: wantedKpa, mostKpa }]
        : [
            {
              code: 'pump',
              kPa: wantedKpa,
              mostKpa,
              fuelPct: 100 * (factorOfPressure(mostKpa, kPa, manifoldKpa) - 1),
            },
          ]
  return { ...found(ruled), free: found(free), cautions }
}

function byInjectors({ table, ...swap }: Asked<'injectors'>): Found<'injectors'> {
  const pulses = table ? rescaledTable(table, swap) : null
  const duty = table && pulses ? tableDuty(table, pulses) : null
  const cautions: Caution[] = [{ code: 'begins richer', pct: 100 * (BEGINS_RICHER - 1) }]
  if (table && duty) {
    const cells = duty.flatMap((row, r) => row.map((pct, c) => ({ pct, rpm: table.rpm[c]!, load: table.load[r]! })))
    const over = cells.filter((one) => one.pct > MOST_DUTY)
    if (over.length)
      cautions.push({ code: 'duty', cells: over.length, most: over.reduce((a, b) => (b.pct > a.pct ? b : a)) })
  }
  return {
    settings: {
      pulseFactor: pulseFactor(swap),
      deadMsChange: swap.to.deadMs - swap.from.deadMs,
      dutyPct: duty,
      pulses,
    },
    given: () => BEGINS_RICHER,
    cautions,
  }
}

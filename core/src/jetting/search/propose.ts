import type { Weather } from '../../air/weather'
import { plain, signed } from '../../numbers/format'
import { missedReadings, scatterOf } from './adequacy'
import { readingAdvice } from './advice'
import { calibrateJetting, type Calibration, type MeasuredFitting } from '../model/calibrate'
import type { Body, Box, Fitted } from '../carburettor'
import { mixtureInAir } from '../model/density'
import type { ProposalList } from './proposal'
import { searchBox } from './search'
import type { CircuitTarget } from '../model/targets'

/** Readings with something fitted, and the air they were read in; null where nobody noted it. */
export interface FittingRead extends MeasuredFitting {
  weather?: Weather | null
}

/** What to fit next, or why the model is not asked. */
export interface PartsAnswer {
  calibration: Calibration
  /** what the box could do; null where the model does not meet its own readings */
  list: ProposalList | null
  /** where the model misses its readings, and what is not proposed for it, in words; empty where it meets them */
  inadequate: string
  /** what the readings themselves tell, by range */
  advice: string[]
  /** for which air it holds, in words */
  air: string
}

/** Openings named where a model misses. */
const NAMED = 3
/** Share of the readings that a model may miss and still be asked about the others; at full throttle it may miss none. */
const MOST_MISSED = 0.25

/** Readings as they would be in another air. */
function inAir({ readings, weather, ...fitting }: FittingRead, air: Weather | null): FittingRead {
  if (!weather || !air) return { ...fitting, readings, weather: weather ?? null }
  const factor = mixtureInAir(weather, air)
  return { ...fitting, weather: air, readings: readings.map((one) => ({ ...one, lambda: one.lambda * factor })) }
}

function airWords(air: Weather | null, measured: readonly FittingRead[]): string {
  if (!air)
    return 'The air was not noted: what is proposed holds for the day of the readings. 10 °C or 300 m more make about 1.5 % richer.'
  const others = measured.some((one) => !one.weather)
  return `Holds for ${plain(air.temperatureC, 0)} °C and ${plain(air.pressureKpa, 1)} kPa.${others ? ' Of some readings the air was not noted; they are taken as they are.' : ''}`
}

/**
 * What to fit next in one carburettor: every combination of the box by the calibrated model. Where that misses a reading what
 * bears there is left alone; where it misses many, or one at full throttle, only what the readings tell is said. Readings of different air are brought to that of the present fitting.
 *
 * @param measured of each fitting, oldest first; the last is what is fitted now
 * @param doubt ln to add to what predictions may be off: checks left open
 * @param onProgress share of the combinations that is done
 * @throws Refusal 'no-jetting' without readings
 * @example
 * const { list, inadequate, advice } = proposeParts(body, box, measured, fitted, usualTargets(body.kind))
 */
export function proposeParts(
  body: Body,
  box: Box,
  measured: readonly FittingRead[],
  fitted: Fitted,
  targets: readonly CircuitTarget[],
  doubt = 0,
  onProgress: (share: number) => void = () => undefined,
): PartsAnswer {
  const own = measured.findLast((one) => JSON.stringify(one.fitted) === JSON.stringify(fitted))
  const air = own?.weather ?? measured.at(-1)?.weather ?? null
  const alike = measured.map((one) => inAir(one, air))
  const rows = own ? own.readings : []
  const calibration = calibrateJetting(body, box, alike, doubt)
  const misses = missedReadings(calibration, alike)
  const shared = { calibration, advice: readingAdvice(rows, targets, body), air: airWords(air, measured) }
  const scatter = scatterOf(rows)
  if (scatter !== null)
    return {
      ...shared,
      list: null,
      inadequate: `The model does not meet its own readings: they scatter by ±${plain(scatter, 0)} % at an opening. Nothing is proposed by them.`,
    }
  const named = misses
    .slice(0, NAMED)
    .map(({ opening, pct }) => `${signed(pct)} % at ${Math.round(100 * opening)} %`)
    .join(', ')
  const count = measured.reduce((sum, one) => sum + one.readings.length, 0)
  const full = targets.find((one) => one.id === 'full')!
  if (misses.length > MOST_MISSED * count || misses.some(({ opening }) => opening >= full.from))
    return {
      ...shared,
      list: null,
      inadequate: `The model does not meet its own readings: they read ${named} against it. What it makes of other parts is worth nothing here, so nothing is proposed beyond what the readings tell.`,
    }
  const missed = misses.map((one) => one.opening)
  return {
    ...shared,
    list: searchBox(calibration, fitted, targets, onProgress, rows, missed),
    inadequate: named
      ? `The model does not meet what was read: ${named} against it. What bears there is left alone.`
      : '',
  }
}

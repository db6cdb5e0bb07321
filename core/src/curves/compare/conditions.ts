import { plain } from '../../numbers/format'
import { correctionById, type CorrectionId } from '../../air/corrections'
import type { Weather } from '../../air/weather'
import type { SensorPlace } from '../../run/run'
import type { RunFacts } from '../../run/facts'
import type { Quantity } from '../torque/quantity'

/** Under which conditions the runs of a set were made. */
export interface Conditions {
  rig: string
  gear: number | null
  sensorPlace: SensorPlace | null
  weather: Weather | null
  /** the weather was told by the logs and not entered */
  weatherLogged: boolean
  /** what to say of runs of this set that were not made alike; null when they were */
  mixed: string | null
  /** where torque came from, in words; empty when there is none */
  torqueFrom: string
}

/** What was said of a set of runs. */
export interface SetConditions {
  rig: string
  gear: number | null
  sensorPlace: SensorPlace | null
  weather: Weather | null
}

/** Conditions of a set: what was said of it, and where nothing was said what its runs tell. */
export function conditionsOf(
  setFacts: SetConditions,
  facts: readonly (RunFacts | null)[],
  torqueFrom: string,
): Conditions {
  const gears = [...new Set(facts.flatMap((one) => one?.gear ?? []))].sort((a, b) => a - b)
  const logged = facts.flatMap((one) => one?.weather ?? [])
  const mean = (of: (weather: Weather) => number): number =>
    logged.reduce((sum, one) => sum + of(one), 0) / logged.length
  return {
    rig: setFacts.rig.trim(),
    gear: gears.length === 1 ? gears[0]! : gears.length ? null : setFacts.gear,
    sensorPlace: setFacts.sensorPlace,
    weather:
      setFacts.weather ??
      (logged.length
        ? {
            temperatureC: mean((one) => one.temperatureC),
            pressureKpa: mean((one) => one.pressureKpa),
            humidityPct: mean((one) => one.humidityPct),
          }
        : null),
    weatherLogged: setFacts.weather === null && logged.length > 0,
    mixed: gears.length > 1 ? `Its runs were made in gears ${gears.join(' and ')}.` : null,
    torqueFrom,
  }
}

/** Something two sets do not share. */
export interface Mismatch {
  what: 'correction' | 'rig' | 'gear' | 'sensor place' | 'torque source'
  /** `refuse`: figures of power must not be compared until somebody says so; `note`: said next to the figures */
  weight: 'refuse' | 'note'
  message: string
}

/** Factor that brings a set's torque to standard air, with what there is to say about it. */
export interface Corrected {
  factor: number
  /** as printed: name and factor, or why there is none */
  label: string
  warning: string | null
}

/**
 * The correction of a set to standard air, as a factor on torque and power; none, with a warning, where the weather is not known.
 */
export function correctSet(id: CorrectionId, weather: Weather | null): Corrected {
  const correction = correctionById(id)
  if (id === 'none') return { factor: 1, label: 'uncorrected', warning: null }
  if (!weather)
    return {
      factor: 1,
      label: 'uncorrected',
      warning: `${correction.name} needs the weather. Enter it for this set, or choose "uncorrected".`,
    }
  const factor = correction.factor(weather)
  const outside = correction.outside(weather)
  return {
    factor,
    label: `${correction.name} × ${plain(factor, 3)}`,
    warning: outside && `${correction.name} does not hold here: ${outside}.`,
  }
}

/**
 * What differs between the conditions of two sets and bears on a comparison. Torque and power of different rigs, gears,
 * torque sources or corrections are refused until somebody accepts it; of mixture only the place of the sensor matters.
 */
export function mismatches(
  first: Conditions,
  second: Conditions,
  correction: CorrectionId,
  quantity: Quantity,
): Mismatch[] {
  return [...powerMismatches(first, second, correction, quantity), ...placeMismatch(first, second)]
}

function powerMismatches(
  first: Conditions,
  second: Conditions,
  correction: CorrectionId,
  quantity: Quantity,
): Mismatch[] {
  if (quantity === 'lambda') return []
  const found: Mismatch[] = []
  const say = (what: Mismatch['what'], weight: Mismatch['weight'], message: string): void =>
    void found.push({ what, weight, message })
  if (correction !== 'none' && (first.weather === null) !== (second.weather === null))
    say(
      'correction',
      'refuse',
      'One set is corrected and the other has no weather, so their figures are not of one kind. Enter its weather, or compare uncorrected.',
    )
  if (correction === 'none' && weatherMatters(first.weather, second.weather))
    say('correction', 'note', 'Uncorrected figures of different weather: part of the difference is the air.')
  if (first.rig !== second.rig)
    say('rig', 'refuse', `Different rigs: ${first.rig || 'not said'} and ${second.rig || 'not said'}.`)
  if (first.torqueFrom && second.torqueFrom && first.torqueFrom !== second.torqueFrom)
    say('torque source', 'refuse', `Torque comes from a ${first.torqueFrom} and from a ${second.torqueFrom}.`)
  if (first.gear !== second.gear)
    say('gear', 'refuse', `Different gears: ${first.gear ?? 'not said'} and ${second.gear ?? 'not said'}.`)
  for (const [which, { mixed }] of [
    ['first', first],
    ['second', second],
  ] as const)
    if (mixed) say('gear', 'refuse', `The ${which} set is not of one kind. ${mixed}`)
  return found
}

function placeMismatch({ sensorPlace: first }: Conditions, { sensorPlace: second }: Conditions): Mismatch[] {
  if (first === second) return []
  return [
    {
      what: 'sensor place',
      weight: 'note',
      message: `The sensor sat in different places (${first ?? 'not said'}, ${second ?? 'not said'}): a difference in mixture may be the place.`,
    },
  ]
}

/** More than about half a percent of air. */
function weatherMatters(first: Weather | null, second: Weather | null): boolean {
  if (!first || !second) return false
  const [a, b] = [first, second].map((one) => correctionById('iso-1585').factor(one))
  return Math.abs(a! / b! - 1) > 0.005
}

import { isRunning } from '../run/engineState'
import type { RigSample } from './sample'
import { grouped, plain } from '../numbers/format'
import { DEFAULT_TARGET, LEANEST_UNDER_LOAD, targetAt, UNDER_LOAD, type TargetChoice } from '../field/target'

/** What stops a run by itself. */
export interface SafetyLimits {
  /** times target that is let pass at load */
  lean: number
  /** the same under boost, and wherever the job says forced induction */
  leanBoosted: number
  /** % of plate from which that counts */
  load: number
  coolantC: number
  rpm: number
  /** knock level */
  knock: number
}

/** Common practice. */
export const DEFAULT_SAFETY: SafetyLimits = {
  lean: 1.08,
  leanBoosted: 1.05,
  load: 50,
  coolantC: 115,
  rpm: 11000,
  knock: 3,
}

/** Least battery voltage with which a controller is written. */
export const LEAST_BATTERY = 12.2

/** What lean is told against: the mixture that the job wants, and whether it is blown. */
export interface LeanAim {
  target: TargetChoice
  /** supercharged or turbocharged */
  isBoosted: boolean
}

export const DEFAULT_AIM: LeanAim = { target: DEFAULT_TARGET, isBoosted: false }

/** kPa from which the manifold is under boost. */
const BOOST = 100
/** rpm below which an engine is not at load, whatever the plate. */
const TURNING = 1500

/**
 * Leanest lambda that is let pass at what is being read; null away from load. A target that somebody had a reason to want
 * leaner than 0.95 under load does not take the stop with it.
 */
export function leanLimit(limits: SafetyLimits, aim: LeanAim, sample: RigSample): number | null {
  const { rpm, throttle, manifold } = sample
  if (throttle < limits.load || rpm <= TURNING) return null
  const isBoosted = aim.isBoosted || (manifold ?? 0) > BOOST
  const wanted = targetAt(aim.target, 'throttle', rpm, throttle)
  const held = throttle >= UNDER_LOAD ? Math.min(wanted, LEANEST_UNDER_LOAD) : wanted
  return held * (isBoosted ? limits.leanBoosted : limits.lean)
}

/** Which readings are beyond what stops a run: for the eye, at once. The watch waits until it lasts. */
export interface Alarms {
  /** by cylinder */
  lean: boolean[]
  knock: boolean
  coolant: boolean
  rpm: boolean
}

/** Readings that are beyond their limits now. */
export function alarmsOf(limits: SafetyLimits, aim: LeanAim, sample: RigSample): Alarms {
  const leanest = leanLimit(limits, aim, sample)
  return {
    lean: sample.lambda.map((lambda) => leanest !== null && lambda > leanest),
    knock: sample.knock > limits.knock,
    coolant: sample.coolant > limits.coolantC,
    rpm: sample.rpm > limits.rpm,
  }
}

/** Why a run was stopped. */
export interface Stop {
  reason: 'lean at load' | 'knock' | 'over temperature' | 'over speed' | 'sensor lost' | 'aborted' | 'link lost'
  /** what was read, in words */
  text: string
}

/** s that a reading must last, so that one spike stops nothing. */
const LASTING = 0.3
/** s after the throttle opened in which a lean spike at tip-in is no fault. */
const TIP_IN = 1.2
/** % per second that count as opening. */
const OPENING = 60
/** A wideband that reads the very same to the last digit this long is lost, s. */
const LOST = 2
/** % of plate up to which fuel may be cut: a motor of the plate leaves it further open than a stop. */
const CUTS_TO = 5

/** Watches readings for what must stop a run; remembers what it needs to tell a fault from a spike. */
export interface SafetyWatch {
  /** @returns why to stop, or null */
  see(sample: RigSample): Stop | null
}

/**
 * A watch over one run: lean at load, knock, heat, speed, a lost sensor. A single sample never stops it.
 *
 * A stop is no substitute for somebody at the rig with a hand on the switch.
 * @example
 * const stop = safetyWatch(DEFAULT_SAFETY).see(sample)
 */
export function safetyWatch(limits: SafetyLimits, aim: LeanAim = DEFAULT_AIM): SafetyWatch {
  const since = new Map<string, number>()
  let before: RigSample | null = null
  let openedAt = -Infinity
  let steadySince = NaN

  /** Whether something has lasted; forgets it as soon as it is over. */
  function lasts(what: string, isSo: boolean, time: number, seconds = LASTING): boolean {
    if (!isSo) {
      since.delete(what)
      return false
    }
    const from = since.get(what) ?? time
    since.set(what, from)
    return time - from >= seconds
  }

  return {
    see(sample) {
      const { time, rpm, throttle, lambda, coolant, knock } = sample
      if (before && throttle - before.throttle > OPENING * (time - before.time)) openedAt = time
      // On a shut throttle fuel is cut and every sensor stands at its end stop: that is no lost one.
      const same =
        before !== null &&
        isRunning(rpm) &&
        throttle > CUTS_TO &&
        lambda.every((value, c) => value === before!.lambda[c])
      if (!same) steadySince = time
      const lost = lambda.some((value) => !(value > 0)) || time - steadySince >= LOST
      before = sample
      const alarms = alarmsOf(limits, aim, sample)
      const isLean = alarms.lean.includes(true) && time - openedAt > TIP_IN
      const found: [Stop['reason'], boolean, () => string][] = [
        ['lean at load', lasts('lean', isLean, time), () => leanText(limits, aim, sample)],
        [
          'knock',
          lasts('knock', alarms.knock, time, 0.1),
          () => `knock level ${plain(knock, 1)} at ${grouped(rpm)} rpm; the limit is ${limits.knock}`,
        ],
        [
          'over temperature',
          lasts('hot', alarms.coolant, time),
          () => `coolant ${plain(coolant, 0)} °C; the limit is ${limits.coolantC} °C`,
        ],
        [
          'over speed',
          lasts('fast', alarms.rpm, time, 0.1),
          () => `${grouped(rpm)} rpm; the limit is ${grouped(limits.rpm)} rpm`,
        ],
        ['sensor lost', isRunning(rpm) && lost, () => 'a wideband gives no reading any more'],
      ]
      const stop = found.find(([, isSo]) => isSo)
      return stop ? { reason: stop[0], text: stop[2]() } : null
    },
  }
}

function leanText(limits: SafetyLimits, aim: LeanAim, sample: RigSample): string {
  const { rpm, throttle, lambda } = sample
  const limit = leanLimit(limits, aim, sample)!
  const target = targetAt(aim.target, 'throttle', rpm, throttle)
  return `lambda ${plain(Math.max(...lambda), 2)} at ${plain(throttle, 0)} %, ${grouped(rpm)} rpm; the limit is ${plain(limit, 2)}, ${plain(limit / target, 2)} times the target of ${plain(target, 2)}`
}

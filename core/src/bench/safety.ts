import type { RigSample } from '../engine/liveRig'

/** What stops a run by itself. */
export interface SafetyLimits {
  /** leanest mixture that is let pass at load */
  lambda: number
  /** % of plate from which that counts */
  load: number
  coolantC: number
  rpm: number
  /** knock level */
  knock: number
}

export const DEFAULT_SAFETY: SafetyLimits = { lambda: 1.08, load: 50, coolantC: 115, rpm: 11000, knock: 3 }

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

/** Watches readings for what must stop a run; remembers what it needs to tell a fault from a spike. */
export interface SafetyWatch {
  /** @returns why to stop, or null */
  see(sample: RigSample): Stop | null
}

/**
 * A watch over one run: lean at load, knock, heat, speed, a lost sensor. A single sample never stops it.
 *
 * A stop is no substitute for somebody at the rig with a hand on the switch.
 */
export function safetyWatch(limits: SafetyLimits): SafetyWatch {
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
      const same = before !== null && rpm > 500 && lambda.every((value, c) => value === before!.lambda[c])
      if (!same) steadySince = time
      const lost = lambda.some((value) => !(value > 0)) || time - steadySince >= LOST
      before = sample
      const leanest = Math.max(...lambda)
      const atLoad = throttle >= limits.load && rpm > 1500 && time - openedAt > TIP_IN
      const found: [Stop['reason'], boolean, string][] = [
        [
          'lean at load',
          lasts('lean', atLoad && leanest > limits.lambda, time),
          `lambda ${leanest.toFixed(2)} at ${throttle.toFixed(0)} %, ${rpm.toFixed(0)} rpm; the limit is ${limits.lambda}`,
        ],
        [
          'knock',
          lasts('knock', knock > limits.knock, time, 0.1),
          `knock level ${knock.toFixed(1)} at ${rpm.toFixed(0)} rpm; the limit is ${limits.knock}`,
        ],
        [
          'over temperature',
          lasts('hot', coolant > limits.coolantC, time),
          `coolant ${coolant.toFixed(0)} °C; the limit is ${limits.coolantC} °C`,
        ],
        [
          'over speed',
          lasts('fast', rpm > limits.rpm, time, 0.1),
          `${rpm.toFixed(0)} rpm; the limit is ${limits.rpm} rpm`,
        ],
        ['sensor lost', rpm > 500 && lost, 'a wideband gives no reading any more'],
      ]
      const stop = found.find(([, isSo]) => isSo)
      return stop ? { reason: stop[0], text: stop[2] } : null
    },
  }
}

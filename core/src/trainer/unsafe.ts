import { plain } from '../numbers/format'
import { safetyWatch, type SafetyLimits, type Stop } from '../rig/safety'
import type { RigSample } from '../rig/sample'

/** Something that should not be done to an engine. */
export interface UnsafeStep {
  /** s on the rig's clock */
  time: number
  what: string
}

/** Full load on an engine colder than this wears it. */
const WARM_C = 60
const LOAD = 60
const COLD_LASTS = 0.6
/** Stops that the rig's own faults make: nobody did them. */
const FAULTS: ReadonlySet<Stop['reason']> = new Set(['sensor lost', 'link lost', 'aborted'])

/**
 * Watches a whole session for unsafe steps: going on where the bench stopped once already, and load on a cold engine. The
 * first stop of each kind is how one learns, and does not count.
 */
export function unsafeWatch(limits: SafetyLimits): { see(sample: RigSample): UnsafeStep | null } {
  const watch = safetyWatch(limits)
  const seen = new Set<string>()
  let danger: string | null = null
  let coldSince = NaN
  let isCold = false
  return {
    see(sample) {
      const { time, throttle, coolant, rpm } = sample
      const stop = watch.see(sample)
      const isOwn = stop !== null && !FAULTS.has(stop.reason)
      const again = isOwn && stop.reason !== danger && seen.has(stop.reason)
      if (stop) seen.add(stop.reason)
      danger = stop?.reason ?? null
      if (again) return { time, what: `${stop.reason} again: ${stop.text}` }
      const colds = throttle >= LOAD && coolant < WARM_C && rpm > 1500
      if (!colds) coldSince = NaN
      else if (Number.isNaN(coldSince)) coldSince = time
      const was = isCold
      isCold = colds && time - coldSince >= COLD_LASTS
      return isCold && !was
        ? {
            time,
            what: `${plain(throttle, 0)} % of plate on an engine at ${plain(coolant, 0)} °C; warm it to ${WARM_C} °C first`,
          }
        : null
    },
  }
}

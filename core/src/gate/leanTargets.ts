import { LOAD_UNITS } from '../table/table'
import { LEANEST_UNDER_LOAD, targetAt, UNDER_LOAD, type TargetChoice } from '../field/target'
import { grouped, plain } from '../numbers/format'
import type { LoadAxis } from '../table/table'
import type { Danger } from './danger'

/** The load from which lean destroys pistons as a pressure, kPa. */
const UNDER_PRESSURE = 85
/** Leanest lambda wanted unasked below that: no usual engine burns leaner without stumbling (common practice). */
const LEANEST_BELOW = 1.1

const RPM = { from: 1000, to: 14000, step: 500 }
const LOADS = [0, 10, 20, 30, 40, 50, 60, 69, 70, 75, 80, 85, 90, 95, 100]

/** Leanest lambda that may be wanted unasked at a load. */
const leanestWanted = (axis: LoadAxis, load: number): number =>
  load >= (axis === 'throttle' ? UNDER_LOAD : UNDER_PRESSURE) ? LEANEST_UNDER_LOAD : LEANEST_BELOW

/** Points at which targets are looked at: a raster, and the corners of their own zones. */
function pointsOf(targets: readonly TargetChoice[]): { rpm: number; load: number }[] {
  const zones = targets.flatMap((one) => one.zones)
  const rpm: number[] = []
  for (let at = RPM.from; at <= RPM.to; at += RPM.step) rpm.push(at)
  const allRpm = [...new Set([...rpm, ...zones.flatMap((zone) => [zone.fromRpm, zone.toRpm])])]
  const inZone = zones.flatMap(({ fromLoad, toLoad }) => [fromLoad, Math.min(toLoad, Math.max(fromLoad, 100))])
  const loads = [...new Set([...LOADS, ...inZone])]
  return allRpm.flatMap((one) => loads.map((load) => ({ rpm: one, load })))
}

/**
 * Where a wanted mixture is leaner than may be wanted unasked, and leaner than it was: from 70 % load leaner than 0.95, below it
 * leaner than 1.1.
 *
 * @param before null where nothing was wanted yet
 * @example
 * leanTargets(null, { preset: 'road-13.0', zones: [] }) // []
 */
export function leanTargets(before: TargetChoice | null, after: TargetChoice, field = 'mixture.target'): Danger[] {
  const axes: LoadAxis[] = ['throttle', 'manifold']
  const lean = axes.flatMap((axis) =>
    pointsOf(before ? [before, after] : [after]).flatMap(({ rpm, load }) => {
      const lambda = targetAt(after, axis, rpm, load)
      const was = before ? targetAt(before, axis, rpm, load) : 0
      const over = lambda - leanestWanted(axis, load)
      return over > 1e-9 && lambda > was + 1e-9 ? [{ axis, rpm, load, lambda, over }] : []
    }),
  )
  if (lean.length === 0) return []
  const worst = lean.reduce((most, one) => (one.over > most.over ? one : most))
  return [
    {
      kind: 'lean target',
      field,
      text: `Lambda ${plain(worst.lambda, 2)} would be wanted at ${grouped(worst.rpm)} rpm and ${worst.load} ${LOAD_UNITS[worst.axis]}. Leaner than ${LEANEST_UNDER_LOAD} from ${UNDER_LOAD} % load destroys pistons, leaner than ${LEANEST_BELOW} below it stumbles; changes and the bench's lean stop go by this target.`,
    },
  ]
}

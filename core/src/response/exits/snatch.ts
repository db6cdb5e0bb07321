import type { LoopExit } from './loopExits'
import type { Estimate } from '../rollOns/excursion'
import type { Overrun } from './overrun'
import type { RollOnGroup } from '../rollOns/rollOnGroups'
import type { GripMap } from '../grip/gripMap'
import { risingAt } from '../grip/knotsAt'
import { torqueCurve, valueOn, type TorqueMap } from '../grip/torqueMap'
import { median } from '../../numbers/median'

/** How hard a machine takes hold as the hand begins to open, at one speed: 1 is torque in step with the hand, at once and with a steady mixture. */
export interface Snatch {
  rpm: number
  index: Estimate
  /** torque gained per 1 % of grip in the first tenth, over what a straight line to full would gain */
  torque: number
  /** largest step of mixture as the throttle opens, percent of lambda, and the half width of its interval */
  mixturePct: number
  mixtureHalf: number
  /** s from the opening to 90 % of torque */
  delayS: number
}

/** Percent of mixture, and s of delay, that make the index half as large again (common practice: what a rider begins to feel). */
const FELT = { mixture: 8, delay: 0.3 }
const TENTH = 10
/** rpm within which roll-ons and overruns speak for a speed. */
const NEAR = 700

interface Known {
  value: number
  half: number
}

/** Snatch by start speed, where torque by plate was measured. */
export function snatch(
  map: TorqueMap | null,
  grip: GripMap | null,
  groups: readonly RollOnGroup[],
  exits: readonly LoopExit[],
  overruns: readonly Overrun[],
): Snatch[] {
  if (!map) return []
  return map.rpm.flatMap((rpm): Snatch[] => {
    const curve = torqueCurve(map, rpm)
    if (!curve || curve.opening.at(-1)! < 60) return []
    const at = risingAt(curve)
    const [shut, opened, full] = [0, TENTH, 100].map((hand) => at(plateAt(grip, hand, rpm))) as [Known, Known, Known]
    const straight = (full.value - shut.value) / TENTH
    if (!(straight > 0)) return []
    const torque = (opened.value - shut.value) / straight
    // Of a quotient of two differences, to first order.
    const doubt = Math.hypot(
      Math.hypot(opened.half, shut.half) / straight,
      (torque * Math.hypot(full.half, shut.half)) / TENTH / straight,
    )
    const near = groups.filter((one) => Math.abs(one.rpm - rpm) <= NEAR && one.fromLoad < 15)
    const peaks = near.map((one) => (one.leanPct[0] > one.richPct[0] ? one.leanPct : one.richPct))
    const edges = exits.filter((one) => Math.abs(one.rpm - rpm) <= NEAR / 2 && one.load < 15)
    const steps: Estimate[] = [
      ...peaks,
      ...edges.map((one): Estimate => {
        const size = Math.abs(one.stepPct)
        return [size, Math.max(0, size - one.stepError), size + one.stepError]
      }),
    ]
    const most = steps.reduce<Estimate>((best, one) => (one[0] > best[0] ? one : best), [0, 0, 0])
    const delays = [
      ...overruns
        .filter((one) => one.delayS !== null && one.backRpm !== null && Math.abs(one.backRpm - rpm) <= NEAR)
        .map((one) => one.delayS!),
      ...near.flatMap((one) => one.members.flatMap(({ rollOn }) => rollOn.torqueDelayS ?? [])),
    ]
    const delayS = delays.length ? median(delays) : 0
    const indexOf = (share: number, mixture: number): number =>
      share * (1 + mixture / FELT.mixture / 2) * (1 + delayS / FELT.delay / 2)
    return [
      {
        rpm,
        index: [
          indexOf(torque, most[0]),
          indexOf(Math.max(0, torque - doubt), most[1]),
          indexOf(torque + doubt, most[2]),
        ],
        torque,
        mixturePct: most[0],
        mixtureHalf: (most[2] - most[1]) / 2,
        delayS,
      },
    ]
  })
}

/** Plate at a grip: by the measured map, or the hand itself where a cable moves it. */
function plateAt(map: GripMap | null, hand: number, rpm: number): number {
  if (!map) return hand
  const k = map.rpm.reduce((best, one, i) => (Math.abs(one - rpm) < Math.abs(map.rpm[best]! - rpm) ? i : best), 0)
  const known = map.grip.flatMap((grip, g) => (map.plate[g]![k] === null ? [] : [{ grip, plate: map.plate[g]![k]! }]))
  return known.length
    ? valueOn(
        known.map((one) => one.grip),
        known.map((one) => one.plate),
        hand,
      )
    : hand
}

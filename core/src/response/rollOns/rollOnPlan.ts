import { isOpen } from '../../run/engineState'
import type { RunColumns } from '../../run/run'
import type { LoopExit } from '../exits/loopExits'
import type { RollOnGroup } from './rollOnGroups'

/** A roll-on to make: from a speed and an opening to another, so many times. */
export interface PlannedRollOn {
  rpm: number
  fromLoad: number
  toLoad: number
  /** repeats that are there, of those wanted */
  done: number
  wanted: number
  why: string
}

const WANTED = 3
/** Small openings first, then the middle, then all the way: the order of the trade (common practice). */
const STEPS = [
  { fromLoad: 3, toLoad: 15 },
  { fromLoad: 5, toLoad: 40 },
  { fromLoad: 5, toLoad: 100 },
] as const
/** Speeds to start from where nothing is known of the riding, share of the highest. */
const USUAL = [0.3, 0.45, 0.6]
const ROUND = 250
/** Load up to which a machine is being ridden gently, %, and least readings there. */
const GENTLE = 30
const LEAST = 200
const NEAR = { rpm: 0.1, fromLoad: 6, toLoad: 15 }

/**
 * Roll-ons in the order to make them, at speeds where the machine is ridden and where something was found.
 *
 * @param complaints speeds that a rider complains of, rpm
 * @param top highest speed that may be asked, rpm
 */
export function rollOnPlan(
  runs: readonly RunColumns[],
  groups: readonly RollOnGroup[],
  exits: readonly LoopExit[],
  complaints: readonly number[],
  top: number,
): PlannedRollOn[] {
  const starts: { rpm: number; why: string }[] = []
  const add = (rpm: number, why: string): void => {
    const rounded = Math.round(rpm / ROUND) * ROUND
    if (rounded < 1500 || rounded > 0.75 * top) return
    if (starts.every((one) => Math.abs(one.rpm - rounded) > NEAR.rpm * rounded)) starts.push({ rpm: rounded, why })
  }
  for (const rpm of complaints) add(rpm, 'the rider complains here')
  for (const one of groups) if (one.advice.what !== 'none') add(one.rpm, 'the mixture leaves its place here')
  for (const one of exits) if (one.load < GENTLE) add(one.rpm - ROUND, 'the closed loop lets go just above')
  for (const rpm of riddenAt(runs)) add(rpm, 'the machine is ridden here')
  if (starts.length === 0) for (const share of USUAL) add(share * top, 'a usual start')
  return STEPS.flatMap(({ fromLoad, toLoad }) =>
    starts.slice(0, 4).map(({ rpm, why }) => {
      const done = groups
        .flatMap((one) => one.members)
        .filter(
          ({ rollOn }) =>
            Math.abs(rollOn.rpm - rpm) <= NEAR.rpm * rpm &&
            Math.abs(rollOn.fromLoad - fromLoad) <= NEAR.fromLoad &&
            Math.abs(rollOn.toLoad - toLoad) <= NEAR.toLoad,
        ).length
      return { rpm, fromLoad, toLoad, done, wanted: WANTED, why }
    }),
  )
}

/** Speeds at which a machine is ridden gently for long: quartiles of what runs show at small openings, rpm. */
function riddenAt(runs: readonly RunColumns[]): number[] {
  const speeds: number[] = []
  for (const { time, rpm, throttle } of runs) {
    if (!throttle) continue
    const stride = Math.max(1, Math.floor(time.length / 2000))
    for (let i = 0; i < time.length; i += stride)
      if (isOpen(throttle[i]!) && throttle[i]! < GENTLE && rpm[i]! > 1500) speeds.push(rpm[i]!)
  }
  if (speeds.length < LEAST) return []
  speeds.sort((a, b) => a - b)
  return [0.25, 0.5, 0.75].map((share) => speeds[Math.floor(share * speeds.length)]!)
}

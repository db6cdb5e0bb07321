import { firstFrom } from '../run/firstFrom'
import { gearsOf, type GearColumns } from './gearsOf'
import { mixtureOfGear } from './mixtureOfGear'

/** Columns that tell what a pass did in each gear; lambda by probe. */
export interface PassColumns extends GearColumns {
  throttle?: Float32Array | undefined
  lambda: readonly Float32Array[]
}

/** Where a pass lies in its run, s, and whether it was shut before its end. */
export interface PassSpan {
  from: number
  to: number
  lifted: boolean
}

/** What one gear of a pass did. The mixture is that of the probe that reads leanest. */
export interface GearOfPass {
  gear: number
  fromS: number
  toS: number
  /** % by which the engine turned faster than this gear does where it grips */
  spinPct: number | null
  /** with the ends of a 90 % interval; null where nothing tells */
  lambda: number | null
  low: number | null
  high: number | null
  /** % of fuel that it wants more of to be where it is wanted */
  wantedPct: number | null
}

/** How far a probe tells later, s, and the lambda that is wanted at an engine speed and a throttle in %. */
export interface PassReading {
  lag: number
  wantedAt(rpm: number, throttle: number): number
}

/** Share of the widest opening from which a row is wide open. */
const WIDE = 0.9

/**
 * Gears of a pass: spin, and the mixture while wide open with the lag taken out. Of several probes the leanest counts: a mean would
 * hide the cylinder that suffers.
 *
 * @example
 * passGears({ time, rpm, speed, throttle, lambda: [left, right] }, { from: 4, to: 16, lifted: false }, { lag: 0.2, wantedAt: () => 0.87 })
 */
export function passGears(
  { time, rpm, speed, gear, throttle, lambda }: PassColumns,
  { from, to, lifted }: PassSpan,
  { lag, wantedAt }: PassReading,
): GearOfPass[] {
  const widest = throttle ? throttle.reduce((most, one) => (one > most ? one : most), 0) : 0
  const isWide = (row: number): boolean => !throttle || throttle[row]! >= WIDE * widest
  const start = firstFrom(time, from)
  let end = firstFrom(time, to)
  // What was ridden after it was shut belongs to no gear.
  if (lifted) while (end > start && !isWide(end - 1)) end--
  return gearsOf({ time, rpm, speed, gear }, start, end).map((span) => {
    const told = lambda.flatMap((probe) => mixtureOfGear(time, probe, span, lag, isWide) ?? [])
    const [leanest] = told.sort((a, b) => b.lambda - a.lambda)
    const middle = (span.from + span.to) >> 1
    return {
      gear: span.gear,
      fromS: time[span.from]!,
      toS: time[span.to - 1]!,
      spinPct: span.spinPct,
      lambda: leanest?.lambda ?? null,
      low: leanest?.low ?? null,
      high: leanest?.high ?? null,
      wantedPct: leanest ? 100 * (leanest.lambda / wantedAt(rpm[middle]!, throttle?.[middle] ?? 100) - 1) : null,
    }
  })
}

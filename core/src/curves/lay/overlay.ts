import { sweepsAt } from '../../run/bySweep'
import type { RpmBand, RunColumns } from '../../run/run'
import { runCurve, type Curve, type CurveOptions } from './curve'
import { misfireSuspicion, type MisfireSuspicion } from './misfire'
import { oddCurves } from './oddCurves'
import { quantityOf, QUANTITIES, spreadOf, type Quantity, type Spread } from '../torque/quantity'
import { curveRuler, type CurveRuler } from './ruler'
import { soundCurves } from './soundCurves'
import { warmUpRuns } from './warmUp'

/** A run that stands out of its repeats, in a band. */
export interface OddRun extends RpmBand {
  run: string
  quantity: 'torque' | 'lambda'
  /** mean departure from the others, %; of lambda positive is leaner */
  departurePct: number
  misfire: MisfireSuspicion | null
}

/** Repeats of one stop laid over each other. */
export interface Overlay {
  ruler: CurveRuler
  curves: Curve[]
  /** by quantity and run, corrected; all NaN where a run does not tell it */
  values: Record<Quantity, Float32Array[]>
  /** the same without what misfires made of them: what means, gains and holes are told from */
  sound: Record<Quantity, Float32Array[]>
  spread: Record<Quantity, Spread>
  /** mean mixture of each cylinder over the runs: what the average of the cylinders hides */
  cylinders: Float32Array[]
  /** most that the cylinders lie apart at one engine speed, % */
  apartPct: number
  odd: OddRun[]
  warmUps: { run: string; why: string }[]
}

/** rpm from bin to bin of the ruler that runs are laid on. */
const STEP = 100

/** The ruler over all these runs. @returns null when none of them turned */
export function rulerOver(runs: readonly RunColumns[], step = STEP): CurveRuler | null {
  let least = Infinity
  let most = 0
  for (const { rpm } of runs)
    for (const value of rpm) {
      if (value > 400 && value < least) least = value
      if (value > most) most = value
    }
  return most > least ? curveRuler(Math.floor(least / step) * step, Math.ceil(most / step) * step, step) : null
}

/**
 * Lays repeats of one throttle stop over each other: curves, spread, the odd run out and its band, warm-up runs. Warm-up
 * runs are told apart first, so that they are not taken for odd and do not widen the spread.
 *
 * @param runs of one stop in the order in which they were made; left-out ones must not be among them
 * @param factor of the correction to standard air
 * @param stop % at which the sweeps are taken where a log holds several; null for all
 * @example
 * const { mean } = overlay(runs, rulerOver(runs)!, DEFAULT_CURVE, 1)
 */
export function overlay(
  runs: readonly RunColumns[],
  ruler: CurveRuler,
  options: CurveOptions,
  factor: number,
  stop: number | null = null,
): Overlay {
  return overlayCurves(
    runs.flatMap((run) => sweepsAt(run, stop)).map((run) => runCurve(run, ruler, options)),
    ruler,
    factor,
  )
}

/** The same of runs that are on the ruler already. */
export function overlayCurves(curves: readonly Curve[], ruler: CurveRuler, factor: number): Overlay {
  const valuesOf = (all: readonly Curve[]): Overlay['values'] =>
    Object.fromEntries(
      QUANTITIES.map((one) => [one, all.map((curve) => quantityOf(curve, one, ruler, factor))]),
    ) as Overlay['values']
  const values = valuesOf(curves)
  const quantity = curves.some((curve) => curve.torque) ? 'torque' : 'lambda'
  const warmUps = warmUpRuns(
    values[quantity],
    curves.map((curve) => curve.coolant),
  )
  const settled = curves.map((_, k) => k).filter((k) => !warmUps.some((one) => one.run === k))
  const pick = (one: Quantity, of: Overlay['values']): Float32Array[] => settled.map((k) => of[one][k]!)
  const odd = findOdd(
    settled.map((k) => curves[k]!),
    { torque: pick('torque', values), lambda: pick('lambda', values) },
    ruler,
  )
  const soundOnes = soundCurves(
    curves,
    odd.filter((one) => one.misfire),
    ruler,
  )
  const sound = valuesOf(soundOnes)
  const most = Math.max(0, ...curves.map((curve) => curve.lambda.length))
  const cylinders = Array.from({ length: most }, (_, c) => {
    const columns = settled.flatMap((k) => soundOnes[k]!.lambda[c] ?? [])
    return spreadOf(columns, ruler).mean
  })
  return {
    ruler,
    curves: [...curves],
    values,
    sound,
    spread: Object.fromEntries(QUANTITIES.map((one) => [one, spreadOf(pick(one, sound), ruler)])) as Overlay['spread'],
    cylinders,
    apartPct: mostApart(cylinders),
    odd,
    warmUps: warmUps.map(({ run, why }) => ({ run: curves[run]!.run, why })),
  }
}

function mostApart(cylinders: readonly Float32Array[]): number {
  let most = 0
  for (let bin = 0; bin < (cylinders[0]?.length ?? 0); bin++) {
    const here = cylinders.map((one) => one[bin]!).filter((value) => value > 0)
    if (here.length > 1) most = Math.max(most, 100 * (Math.max(...here) / Math.min(...here) - 1))
  }
  return most
}

/** Odd bands in torque and in mixture; where both see the same run in the same place it is one finding, told by the mixture. */
function findOdd(
  curves: readonly Curve[],
  values: Record<'torque' | 'lambda', Float32Array[]>,
  ruler: CurveRuler,
): OddRun[] {
  const found: OddRun[] = []
  for (const quantity of ['lambda', 'torque'] as const) {
    for (const { run, fromRpm, toRpm, departurePct } of oddCurves(values[quantity], ruler)) {
      const curve = curves[run]!
      const known = found.find((one) => one.run === curve.run && one.fromRpm < toRpm && fromRpm < one.toRpm)
      if (known) {
        known.fromRpm = Math.min(known.fromRpm, fromRpm)
        known.toRpm = Math.max(known.toRpm, toRpm)
        continue
      }
      const others = curves.filter((one) => one !== curve)
      const misfire = misfireSuspicion(curve, others, { fromRpm, toRpm }, ruler)
      found.push({ run: curve.run, quantity, fromRpm, toRpm, departurePct, misfire })
    }
  }
  return found
}

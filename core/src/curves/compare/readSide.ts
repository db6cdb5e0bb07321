import type { RpmBand } from '../../run/run'
import { targetOn } from '../../field/target'
import { conditionsOf, correctSet, type Conditions } from './conditions'
import type { Curve } from '../lay/curve'
import { findHoles } from '../lay/holes'
import { overlayCurves, type Overlay } from '../lay/overlay'
import { quantityOf, spreadOf, type Quantity } from '../torque/quantity'
import { rulerRpm, type CurveRuler } from '../lay/ruler'
import type { Side, SideChoice, SideFacts } from './side'
import { warmUpRuns } from '../lay/warmUp'

/** A side laid over itself, with what its set was made in. */
export interface ReadSide {
  name: string
  overlay: Overlay
  conditions: Conditions
  correction: string
  warning: string | null
  /** bands in which every run misfires */
  misfires: RpmBand[]
}

export interface Laid {
  side: Side
  curves: Curve[]
  misfires: RpmBand[]
  besides: Curve[][]
}

export function readSide(
  side: Side,
  curves: readonly Curve[],
  ruler: CurveRuler,
  { correction }: SideChoice,
  misfires: readonly RpmBand[] = [],
): ReadSide {
  const conditions = conditionsOf(side.setFacts, side.facts, '')
  const { factor, label, warning } = correctSet(correction, conditions.weather)
  const laid = overlayCurves(curves, ruler, factor)
  return {
    name: side.name,
    overlay: laid,
    conditions: { ...conditions, torqueFrom: laid.curves.find((curve) => curve.torque)?.torqueFrom ?? '' },
    correction: label,
    warning,
    misfires: [...misfires],
  }
}

export function sideFacts(
  { overlay: laid, misfires, ...side }: ReadSide,
  ruler: CurveRuler,
  choice: SideChoice,
): SideFacts {
  const grid = { rpm: rulerRpm(ruler), load: [choice.load] }
  const target = targetOn(grid, choice.loadAxis, choice.target)[0]!
  const values = settledValues(laid, choice.quantity)
  return {
    ...side,
    runs: values.length,
    warmUps: laid.warmUps.length,
    misfires: [...misfires, ...laid.odd.filter((one) => one.misfire).map(({ fromRpm, toRpm }) => ({ fromRpm, toRpm }))],
    holes: hasValues(laid.spread.torque.mean)
      ? findHoles(laid.spread.torque.mean, laid.spread.lambda.mean, target, ruler)
      : [],
    spread: spreadOf(values, ruler),
  }
}

/** Runs that tell the quantity, warm-up runs and what misfires made of it left aside. */
export function settledValues({ curves, sound, warmUps }: Overlay, quantity: Quantity): Float32Array[] {
  return sound[quantity].filter((one, k) => hasValues(one) && !warmUps.some((warm) => warm.run === curves[k]!.run))
}

const hasValues = (values: Float32Array): boolean => values.some((value) => value === value)

/** Repeats of a group, without a warm-up. */
export function settledOf(group: readonly Curve[], ruler: CurveRuler, quantity: Quantity): Float32Array[] {
  const values = group.map((curve) => quantityOf(curve, quantity, ruler, 1))
  const coolant = group.map((curve) => curve.coolant)
  const warm = warmUpRuns(values, coolant).map((one) => one.run)
  return values.filter((one, run) => hasValues(one) && !warm.includes(run))
}

export function noneOf({ name, overlay: laid }: ReadSide, quantity: Quantity): string {
  const fault = quantity === 'lambda' ? '' : laid.curves.find((curve) => curve.torqueFault)?.torqueFault
  return `The runs of "${name}" tell no ${quantity}.${fault ? ` ${fault}` : ''}`
}

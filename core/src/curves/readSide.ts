import { targetOn, type TargetChoice } from '../field/target'
import type { RunFacts } from '../run/facts'
import type { RunColumns } from '../run/run'
import type { LoadAxis } from '../table/table'
import type { CorrectionId } from '../air/corrections'
import { conditionsOf, correctSet, type Conditions, type SetConditions } from './conditions'
import type { Curve, CurveOptions } from './curve'
import type { EnteredFigures } from './enteredFigures'
import { findHoles, type Hole } from './holes'
import { overlayCurves, type Overlay } from './overlay'
import { quantityOf, spreadOf, type Quantity, type Spread } from './quantity'
import { rulerRpm, type CurveRuler } from './ruler'
import { warmUpRuns } from './warmUp'

/** One set in a comparison: its runs at one stop, or figures of stock machines that somebody entered. */
export interface Side {
  name: string
  /** which machine it was, by any key: sets of one job are one machine */
  machine: string
  setFacts: SetConditions
  runs: readonly RunColumns[]
  /** groups of repeats beside these: at the nearest stops below and above, at other settings; they tell how well the rig repeats, and how torque follows the plate */
  besides: readonly (readonly RunColumns[])[]
  facts: readonly (RunFacts | null)[]
  curve: CurveOptions
  figures: EnteredFigures | null
}

/** One side as it went into the comparison. */
export interface SideFacts {
  name: string
  runs: number
  /** warm-up runs that were kept out */
  warmUps: number
  /** correction and its factor, as printed */
  correction: string
  warning: string | null
  conditions: Conditions | null
  holes: Hole[]
  /** spread over its runs */
  spread: Spread | null
}

/** A side laid over itself, with what its set was made in. */
export interface ReadSide {
  name: string
  overlay: Overlay
  conditions: Conditions
  correction: string
  warning: string | null
}

export interface Laid {
  side: Side
  curves: Curve[]
  besides: Curve[][]
}

/** What of a comparison says how its sides are read. */
export interface SideChoice {
  quantity: Quantity
  correction: CorrectionId
  /** load of these runs, and the target that mixture errors are told against */
  load: number
  loadAxis: LoadAxis
  target: TargetChoice
}

export function readSide(
  side: Side,
  curves: readonly Curve[],
  ruler: CurveRuler,
  { correction }: SideChoice,
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
  }
}

export function sideFacts({ overlay: laid, ...side }: ReadSide, ruler: CurveRuler, choice: SideChoice): SideFacts {
  const grid = { rpm: rulerRpm(ruler), load: [choice.load] }
  const target = targetOn(grid, choice.loadAxis, choice.target)[0]!
  const values = settledValues(laid, choice.quantity)
  return {
    ...side,
    runs: values.length,
    warmUps: laid.warmUps.length,
    holes: hasValues(laid.spread.torque.mean)
      ? findHoles(laid.spread.torque.mean, laid.spread.lambda.mean, target, ruler)
      : [],
    spread: spreadOf(values, ruler),
  }
}

/** Runs that tell the quantity, warm-up runs left aside. */
export function settledValues({ curves, values, warmUps }: Overlay, quantity: Quantity): Float32Array[] {
  return values[quantity].filter((one, k) => hasValues(one) && !warmUps.some((warm) => warm.run === curves[k]!.run))
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

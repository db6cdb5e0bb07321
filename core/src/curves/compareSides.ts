import type { CorrectionId } from '../air/corrections'
import { targetOn, type TargetChoice } from '../field/target'
import type { LoadAxis } from '../table/table'
import type { RpmBand, RunColumns } from '../run/run'
import {
  LEAST_MACHINES,
  compareSets,
  compareToReference,
  referenceOf,
  type CompareOptions,
  type Comparison,
  type Reference,
} from './compare'
import { differenceErrors } from './differenceErrors'
import { conditionsOf, correctSet, mismatches, type Conditions, type Mismatch, type SetConditions } from './conditions'
import { runCurve, type Curve, type CurveOptions } from './curve'
import type { RunFacts } from '../run/facts'
import { gainBegins, type GainBegins } from './gainBegins'
import { gainsTable, type Gain } from './gains'
import { findHoles, type Hole } from './holes'
import { overlayCurves, rulerOver, type Overlay } from './overlay'
import { heldPlates } from './heldPlates'
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

/** A reference as entered: mean and spread of several stock machines by rpm. */
interface EnteredFigures {
  quantity: Quantity
  /** correction the figures carry */
  correction: CorrectionId
  rpm: number[]
  mean: number[]
  /** standard deviation over machines */
  spread: number[]
  machines: number
}

export interface SidesChoice {
  quantity: Quantity
  correction: CorrectionId
  bands: readonly RpmBand[]
  at: readonly number[]
  /** mismatches that somebody accepts, so that they are called out and not refused */
  accepted: readonly Mismatch['what'][]
  options: CompareOptions
  /** throttle stop of these runs, %; null when it is not known, so that torque stays as it was made */
  stop: number | null
  /** load of these runs, and the target that mixture errors are told against */
  load: number
  loadAxis: LoadAxis
  target: TargetChoice
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

export interface ComparedSides {
  ruler: CurveRuler
  quantity: Quantity
  first: SideFacts
  second: SideFacts
  mismatches: Mismatch[]
  /** those that were not accepted; then there is no comparison */
  refused: Mismatch[]
  /** how far what is told reaches, where that could be misread; null else */
  scope: string | null
  /** how torque was brought to the stop, where the runs were not held at it; null else */
  broughtToStop: string | null
  comparison: Comparison | null
  gains: Gain[]
  gainBegins: GainBegins | null
}

/** Sides that cannot be compared at all, and why. */
export class CompareError extends Error {
  readonly status = 422
  readonly title = 'Nothing can be compared'
  readonly faults = [{ field: 'second', message: this.message }]
}

/**
 * Compares a set with another, or with several stock machines as one reference: difference by rpm with its interval, what
 * is real, gains, holes. What the two do not share is refused or called out, never silent.
 *
 * @param first one set, or several machines that make a reference together
 * @throws CompareError when a side has no runs, or nothing of the quantity
 * @example
 * const { comparison, gains } = compareSides([before], after, choice)
 */
export function compareSides(first: readonly Side[], second: Side, choice: SidesChoice): ComparedSides {
  const all = [...first.flatMap((side) => side.runs), ...second.runs]
  const entered = first.length === 1 ? first[0]!.figures : null
  for (const side of [...(entered ? [] : first), second])
    if (side.runs.length === 0) throw new CompareError(`"${side.name}" has no runs at this throttle.`)
  const ruler = rulerOver(all)
  if (!ruler) throw new CompareError('The engine does not turn in these runs.')
  const laid = [...(entered ? [] : first), second].map((side): Laid => {
    const curvesOf = (runs: readonly RunColumns[]): Curve[] => runs.map((run) => runCurve(run, ruler, side.curve))
    return { side, curves: curvesOf(side.runs), besides: side.besides.map(curvesOf) }
  })
  const held = choice.quantity === 'lambda' ? null : heldPlates(laid, ruler, choice.stop)
  const read = laid.map(({ side, curves }) => readSide(side, held ? held.bring(curves) : curves, ruler, choice))
  const mine = read.at(-1)!
  const theirs = read.slice(0, -1)
  const problems = distinct([
    ...theirs.flatMap((one) => mismatches(one.conditions, mine.conditions, choice.correction, choice.quantity)),
    ...(entered ? enteredMismatch(entered, choice) : []),
  ])
  const refused = problems.filter((one) => one.weight === 'refuse' && !choice.accepted.includes(one.what))
  const values = (side: ReadSide): Float32Array[] => settledValues(side.overlay, choice.quantity)
  for (const side of [...theirs, mine])
    if (values(side).length === 0) throw new CompareError(noneOf(side, choice.quantity))
  const reference = entered
    ? enteredReference(entered, ruler)
    : first.length > 1
      ? machinesOf(theirs, values, ruler)
      : null
  const before = reference ? [reference.mean] : values(theirs[0]!)
  const errors = differenceErrors(before, values(mine), ruler, {
    doubt: held?.doubt,
    besides: laid.flatMap((one) => one.besides.map((group) => settledOf(group, ruler, choice.quantity))),
  })
  const comparison = refused.length
    ? null
    : reference
      ? compareToReference(reference, values(mine), ruler, choice.options)
      : compareSets(before, values(mine), ruler, choice.options, errors)
  return {
    ruler,
    quantity: choice.quantity,
    first: entered
      ? { ...blankFacts(entered), name: first[0]!.name }
      : theirs.length === 1
        ? sideFacts(theirs[0]!, ruler, choice)
        : referenceFacts(theirs, reference!, ruler),
    second: sideFacts(mine, ruler, choice),
    mismatches: problems,
    refused,
    scope: scopeOf(first, second, reference),
    broughtToStop: held && held.words,
    comparison,
    gains: comparison ? gainsTable(before, values(mine), ruler, choice, errors) : [],
    gainBegins:
      comparison && gainBegins(comparison, reference ? [] : before, values(mine), ruler, second.curve.smoothing),
  }
}

/** What machines the comparison speaks of. */
function scopeOf(first: readonly Side[], second: Side, reference: Reference | null): string | null {
  const type = 'A statement about the type needs three or more.'
  if (reference)
    return reference.machines < LEAST_MACHINES
      ? `The others are ${reference.machines === 1 ? 'one machine' : 'two machines'}. ${type}`
      : null
  return first[0]!.machine !== second.machine
    ? `One machine each: what is told here holds for these two machines. ${type}`
    : null
}

function noneOf({ name, overlay: laid }: ReadSide, quantity: Quantity): string {
  const fault = quantity === 'lambda' ? '' : laid.curves.find((curve) => curve.torqueFault)?.torqueFault
  return `The runs of "${name}" tell no ${quantity}.${fault ? ` ${fault}` : ''}`
}

interface ReadSide {
  name: string
  overlay: Overlay
  conditions: Conditions
  correction: string
  warning: string | null
}

interface Laid {
  side: Side
  curves: Curve[]
  besides: Curve[][]
}

/** Repeats of a group, without a warm-up. */
function settledOf(group: readonly Curve[], ruler: CurveRuler, quantity: Quantity): Float32Array[] {
  const values = group.map((curve) => quantityOf(curve, quantity, ruler, 1))
  const coolant = group.map((curve) => curve.coolant)
  const warm = warmUpRuns(values, coolant).map((one) => one.run)
  return values.filter((one, run) => hasValues(one) && !warm.includes(run))
}

function readSide(side: Side, curves: readonly Curve[], ruler: CurveRuler, { correction }: SidesChoice): ReadSide {
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

function sideFacts({ overlay: laid, ...side }: ReadSide, ruler: CurveRuler, choice: SidesChoice): SideFacts {
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
function settledValues({ curves, values, warmUps }: Overlay, quantity: Quantity): Float32Array[] {
  return values[quantity].filter((one, k) => hasValues(one) && !warmUps.some((warm) => warm.run === curves[k]!.run))
}

const hasValues = (values: Float32Array): boolean => values.some((value) => value === value)

/** Each machine by its mean curve. */
function machinesOf(
  sides: readonly ReadSide[],
  values: (side: ReadSide) => Float32Array[],
  ruler: CurveRuler,
): Reference {
  return referenceOf(
    sides.map((side) => spreadOf(values(side), ruler).mean),
    ruler,
  )
}

function referenceFacts(sides: readonly ReadSide[], { machines }: Reference, ruler: CurveRuler): SideFacts {
  return {
    name: `${machines} machines`,
    runs: sides.reduce((sum, side) => sum + side.overlay.curves.length - side.overlay.warmUps.length, 0),
    warmUps: sides.reduce((sum, side) => sum + side.overlay.warmUps.length, 0),
    correction: [...new Set(sides.map((side) => side.correction))].join(', '),
    warning: sides.find((side) => side.warning)?.warning ?? null,
    conditions: null,
    holes: [],
    spread: spreadOf(
      sides.map((side) => side.overlay.spread.torque.mean),
      ruler,
    ),
  }
}

function blankFacts({ correction, machines }: EnteredFigures): Omit<SideFacts, 'name'> {
  return {
    runs: 0,
    warmUps: 0,
    correction: `${correction}, as entered, ${machines} machines`,
    warning: null,
    conditions: null,
    holes: [],
    spread: null,
  }
}

function enteredMismatch(entered: EnteredFigures, { correction, quantity }: SidesChoice): Mismatch[] {
  if (quantity !== entered.quantity)
    throw new CompareError(`The entered figures are ${entered.quantity}, not ${quantity}. Choose ${entered.quantity}.`)
  if (quantity === 'lambda' || correction === entered.correction) return []
  return [
    {
      what: 'correction',
      weight: 'refuse',
      message: `The entered figures carry ${entered.correction}, this comparison ${correction}. Choose the same correction.`,
    },
  ]
}

/** Entered figures on the ruler, by straight lines between them. */
function enteredReference({ rpm, mean, spread, machines }: EnteredFigures, ruler: CurveRuler): Reference {
  const onRuler = (values: readonly number[]): Float32Array =>
    Float32Array.from(rulerRpm(ruler), (at) => {
      const next = rpm.findIndex((one) => one >= at)
      if (next < 0 || at < rpm[0]!) return NaN
      if (next === 0) return values[0]!
      const share = (at - rpm[next - 1]!) / (rpm[next]! - rpm[next - 1]!)
      return values[next - 1]! + share * (values[next]! - values[next - 1]!)
    })
  return { mean: onRuler(mean), spread: onRuler(spread), machines }
}

function distinct(problems: readonly Mismatch[]): Mismatch[] {
  return problems.filter((one, k) => problems.findIndex((other) => other.message === one.message) === k)
}

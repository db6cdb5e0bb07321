import { refused } from '../../refusal/refusal'
import { sweepsAt } from '../../run/bySweep'
import type { RpmBand, RunColumns } from '../../run/run'
import {
  LEAST_MACHINES,
  compareSets,
  compareToReference,
  referenceOf,
  type CompareOptions,
  type Comparison,
  type Reference,
} from './compare'
import { mismatches, type Mismatch } from './conditions'
import { runCurve, type Curve } from '../lay/curve'
import { differenceErrors } from './differenceErrors'
import { blankFacts, enteredMismatch, enteredReference } from './enteredFigures'
import { gainBegins, type GainBegins } from './gainBegins'
import { gainsTable, type Gain } from './gains'
import { heldPlates } from '../lay/heldPlates'
import { rulerOver } from '../lay/overlay'
import { spreadOf, type Quantity } from '../torque/quantity'
import { noneOf, readSide, settledOf, settledValues, sideFacts, type Laid, type ReadSide } from './readSide'
import { sharedMisfires } from '../lay/sharedMisfires'
import type { Side, SideChoice, SideFacts } from './side'
import { soundCurves } from '../lay/soundCurves'
import type { CurveRuler } from '../lay/ruler'

export interface SidesChoice extends SideChoice {
  bands: readonly RpmBand[]
  at: readonly number[]
  /** mismatches that somebody accepts, so that they are called out and not refused */
  accepted: readonly Mismatch['what'][]
  options: CompareOptions
  /** throttle stop of these runs, %; null when it is not known, so that torque stays as it was made */
  stop: number | null
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

/**
 * Compares a set with another, or with several stock machines as one reference: difference by rpm with its interval, what
 * is real, gains, holes. What the two do not share is refused or called out, never silent.
 *
 * @param first one set, or several machines that make a reference together
 * @throws Refusal 'nothing-to-compare' when a side has no runs, or nothing of the quantity
 * @example
 * const { comparison, gains } = compareSides([before], after, choice)
 */
export function compareSides(first: readonly Side[], second: Side, choice: SidesChoice): ComparedSides {
  const entered = first.length === 1 ? first[0]!.figures : null
  for (const side of [...(entered ? [] : first), second])
    if (sweepsOf(side, choice.stop).length === 0)
      throw refused('nothing-to-compare', `"${side.name}" has no runs at this throttle.`, 'second')
  const ruler = rulerOver([...first, second].flatMap((side) => sweepsOf(side, choice.stop)))
  if (!ruler) throw refused('nothing-to-compare', 'The engine does not turn in these runs.', 'second')
  const laid = [...(entered ? [] : first), second].map((side): Laid => {
    const curvesOf = (runs: readonly RunColumns[]): Curve[] => runs.map((run) => runCurve(run, ruler, side.curve))
    const runs = sweepsOf(side, choice.stop)
    const misfires = sharedMisfires(runs, side.curve.lag, side.cylinders ?? null)
    const bands = runs.flatMap(({ id }) => misfires.map(({ fromRpm, toRpm }) => ({ run: id, fromRpm, toRpm })))
    const curves = soundCurves(curvesOf(runs), bands, ruler)
    return { side, curves, besides: side.besides.map((one) => curvesOf(sweepsOf(one, one.stop))), misfires }
  })
  const held = choice.quantity === 'lambda' ? null : heldPlates(laid, ruler, choice.stop)
  const read = laid.map(({ side, curves, misfires }) =>
    readSide(side, held ? held.bring(curves) : curves, ruler, choice, misfires),
  )
  const mine = read.at(-1)!
  const theirs = read.slice(0, -1)
  const problems = distinct([
    ...theirs.flatMap((one) => mismatches(one.conditions, mine.conditions, choice.correction, choice.quantity)),
    ...(entered ? enteredMismatch(entered, choice) : []),
  ])
  const mismatched = problems.filter((one) => one.weight === 'refuse' && !choice.accepted.includes(one.what))
  const values = (side: ReadSide): Float32Array[] => settledValues(side.overlay, choice.quantity)
  for (const side of [...theirs, mine])
    if (values(side).length === 0) throw refused('nothing-to-compare', noneOf(side, choice.quantity), 'second')
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
  const comparison = mismatched.length
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
    refused: mismatched,
    scope: scopeOf(first, second, reference),
    broughtToStop: held && held.words,
    comparison,
    gains: comparison ? gainsTable(before, values(mine), ruler, choice, errors) : [],
    gainBegins:
      comparison && gainBegins(comparison, reference ? [] : before, values(mine), ruler, second.curve.smoothing),
  }
}

/** Sweeps at a stop, where runs hold several. */
const sweepsOf = ({ runs }: Pick<Side, 'runs'>, stop: number | null): RunColumns[] =>
  runs.flatMap((run) => sweepsAt(run, stop))

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
    misfires: sides.flatMap((side) => side.misfires),
    holes: [],
    spread: spreadOf(
      sides.map((side) => side.overlay.spread.torque.mean),
      ruler,
    ),
  }
}

function distinct(problems: readonly Mismatch[]): Mismatch[] {
  return problems.filter((one, k) => problems.findIndex((other) => other.message === one.message) === k)
}

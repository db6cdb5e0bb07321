import type { CorrectionId } from '../../air/corrections'
import type { TargetChoice } from '../../field/target'
import type { RunFacts } from '../../run/facts'
import type { RpmBand, RunColumns } from '../../run/run'
import type { LoadAxis } from '../../table/table'
import type { Conditions, SetConditions } from './conditions'
import type { CurveOptions } from '../lay/curve'
import type { Hole } from '../lay/holes'
import type { Quantity, Spread } from '../torque/quantity'

/** A reference as entered: mean and spread of several stock machines by rpm. */
export interface EnteredFigures {
  quantity: Quantity
  /** correction the figures carry */
  correction: CorrectionId
  rpm: number[]
  mean: number[]
  /** standard deviation over machines */
  spread: number[]
  machines: number
}

/** Repeats at a stop, %; null where it is not known. */
interface Beside {
  stop: number | null
  runs: readonly RunColumns[]
}

/** One set in a comparison: its runs at one stop, or figures of stock machines that somebody entered. */
export interface Side {
  name: string
  /** which machine it was, by any key: sets of one job are one machine */
  machine: string
  setFacts: SetConditions
  /** where a log holds several sweeps, those at the stop compared count, each as a run */
  runs: readonly RunColumns[]
  /** groups of repeats beside these: at the nearest stops below and above, at other settings; they tell how well the rig repeats, and how torque follows the plate */
  besides: readonly Beside[]
  facts: readonly (RunFacts | null)[]
  curve: CurveOptions
  /** of its engine; null when nobody said */
  cylinders?: number | null | undefined
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
  /** bands in which some or all of its runs misfire: left out of means, gains and holes, for they tell nothing of fuel */
  misfires: RpmBand[]
  holes: Hole[]
  /** spread over its runs */
  spread: Spread | null
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

import { refused } from '../../refusal/refusal'
import type { Reference } from './compare'
import type { Mismatch } from './conditions'
import { rulerRpm, type CurveRuler } from '../lay/ruler'
import type { EnteredFigures, SideChoice, SideFacts } from './side'

/** Entered figures on the ruler, by straight lines between them. */
export function enteredReference({ rpm, mean, spread, machines }: EnteredFigures, ruler: CurveRuler): Reference {
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

/** What entered figures do not share with what is asked for. @throws Refusal 'nothing-to-compare' where they are of another quantity */
export function enteredMismatch(entered: EnteredFigures, { correction, quantity }: SideChoice): Mismatch[] {
  if (quantity !== entered.quantity)
    throw refused(
      'nothing-to-compare',
      `The entered figures are ${entered.quantity}, not ${quantity}. Choose ${entered.quantity}.`,
      'second',
    )
  if (quantity === 'lambda' || correction === entered.correction) return []
  return [
    {
      what: 'correction',
      weight: 'refuse',
      message: `The entered figures carry ${entered.correction}, this comparison ${correction}. Choose the same correction.`,
    },
  ]
}

/** What is known of a side that was entered. */
export function blankFacts({ correction, machines }: EnteredFigures): Omit<SideFacts, 'name'> {
  return {
    runs: 0,
    warmUps: 0,
    correction: `${correction}, as entered, ${machines} machines`,
    warning: null,
    conditions: null,
    misfires: [],
    holes: [],
    spread: null,
  }
}

import { grouped, plain, signed } from '../../numbers/format'
import type { OddRun } from './overlay'

/** What is known of the probes, for naming a cylinder. */
export interface ProbesKnown {
  /** that the run was read by */
  probes: number
  /** of the engine; null when nobody said */
  cylinders: number | null
  /** name of a cylinder, from 1 */
  name: (cylinder: number) => string
}

/** Whose misfire it is: one probe for several cylinders cannot tell. */
function whose(cylinder: number, { probes, cylinders, name }: ProbesKnown): string {
  if (cylinders === null ? probes === 1 : probes < cylinders)
    return cylinders === null
      ? 'of a cylinder'
      : `of one of the cylinders that probe ${cylinder} reads; one probe cannot tell which`
  return `of ${name(cylinder)}`
}

/** What is odd about a run among its repeats, in words. */
export function oddRunWords({ quantity, fromRpm, toRpm, departurePct, misfire }: OddRun, known: ProbesKnown): string {
  const what = quantity === 'torque' ? 'torque' : 'mixture reading'
  const where = `${grouped(fromRpm)} to ${grouped(toRpm)} rpm`
  const found = `Its ${what} lies ${signed(departurePct)} % off its repeats from ${where}.`
  if (!misfire) return found
  const torque = misfire.torquePct === null ? '' : `, torque is ${signed(misfire.torquePct)} %`
  return `${found} Looks like a misfire ${whose(misfire.cylinder, known)}: it reads lean, readings scatter ${plain(misfire.scatterRatio, 1)} times as much${torque}. Unburnt charge reads lean without being lean: look at plug and coil before adding fuel. It is kept out of means and gains.`
}

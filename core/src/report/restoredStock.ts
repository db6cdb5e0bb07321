import { plain } from '../numbers/format'
import type { RunSet } from '../contract/set'

type Told = Pick<RunSet, 'name' | 'setup' | 'calibration'>

/** Percent by which long trims of two sets may differ and still be alike. */
const ALIKE_TRIM = 2
/** Minutes of mixed running in which a controller learns again (common practice). */
const ADAPTING_MINUTES = 15

const isStock = ({ calibration }: Told): boolean => /^(stock|factory)\b/i.test(calibration.trim())

/**
 * What before and after cannot tell apart: the calibration from the parts, and a controller that has not learnt yet.
 *
 * @param longTrims mean long trim of each set, %; null where none was logged
 * @returns in words what to run, or to wait for; empty when the question is answered
 */
export function restoredStock(
  before: Told,
  after: Told,
  sets: readonly Told[],
  longTrims: { before: number | null; after: number | null },
): string[] {
  const said: string[] = []
  const isOtherSetup = before.setup.trim() !== after.setup.trim()
  const isOtherCalibration = before.calibration.trim() !== after.calibration.trim()
  const hasStockOnNew = sets.some((one) => isStock(one) && one.setup.trim() === after.setup.trim())
  if (isOtherSetup && isOtherCalibration && !hasStockOnNew)
    said.push(
      `Parts and calibration changed together. To tell what the calibration did, run "${after.setup || after.name}" on the stock calibration, too; a stock controller that adapts wants about ${ADAPTING_MINUTES} minutes of mixed running first.`,
    )
  const { before: one, after: other } = longTrims
  if (one !== null && other !== null && Math.abs(other - one) > ALIKE_TRIM)
    said.push(
      `Long trims differ by ${plain(Math.abs(other - one), 1)} % between the sets: the controller has learnt in one and not in the other. Let it adapt, about ${ADAPTING_MINUTES} minutes, and run again.`,
    )
  return said
}

import { refused } from '../../refusal/refusal'
import { grouped } from '../../numbers/format'
import type { RunColumns } from '../../run/run'
import { gripMap } from './gripMap'
import { makePlate, type MadePlate, type PlateValues, type PlateWish } from './plateTable'
import { inOneMode, type ResponseChoice } from '../response'
import { torqueMap } from './torqueMap'
import { wholeMap } from './wholeMap'
import { median } from '../../numbers/median'

/** What a plate table is made from. */
export interface PlateAsked {
  wish: PlateWish
  mode: ResponseChoice['mode']
  /** the table in force; null to start from what runs show */
  now: PlateValues | null
  /** tables of other modes, by name, that this one must not lie far from unsaid */
  others: readonly { name: string; table: PlateValues }[]
  reason: string | null
}

/** % of plate by which modes may lie apart unsaid (common practice: a rider changes them while riding). */
const FAR_APART = 25

/**
 * A plate table from runs of a machine.
 *
 * @throws Refusal 'no-plate-table' when there is neither a table to start from nor a measured map
 */
export function askPlate(all: readonly RunColumns[], { wish, mode, now, others, reason }: PlateAsked): MadePlate {
  const { runs } = inOneMode(all, mode)
  const map = now ? null : gripMap(runs)
  if (!now && !map)
    throw refused(
      'no-plate-table',
      runs.some((run) => run.grip)
        ? 'Grip and plate were not read together for long enough. Open in slow steps over the whole range, and log both.'
        : 'No grip channel in these runs, and no plate table to start from. Log grip and plate together, or add the table in force.',
      'runs',
    )
  const start = now ?? wholeMap(map!)
  const made = makePlate(start, torqueMap(runs), wish, idleStopOf(start), reason)
  return { ...made, cautions: [...made.cautions, ...others.flatMap((one) => farApart(made, one))] }
}

/** % of plate with the grip shut. */
function idleStopOf({ values }: PlateValues): number {
  return Math.max(0, median([...values[0]!]))
}

function farApart(made: PlateValues, { name, table }: { name: string; table: PlateValues }): string[] {
  let worst = { apart: FAR_APART, grip: 0, rpm: 0 }
  made.grip.forEach((hand, g) =>
    made.rpm.forEach((speed, k) => {
      const [row, column] = [nearestIndex(table.grip, hand), nearestIndex(table.rpm, speed)]
      const apart = Math.abs(table.values[row]![column]! - made.values[g]![k]!)
      if (apart > worst.apart) worst = { apart, grip: hand, rpm: speed }
    }),
  )
  return worst.apart > FAR_APART
    ? [
        `${name} lies ${Math.round(worst.apart)} % of plate away at ${worst.grip} % of grip, ${grouped(worst.rpm)} rpm: whoever changes modes while riding feels it.`,
      ]
    : []
}

function nearestIndex(axis: readonly number[], value: number): number {
  return axis.reduce((best, one, k) => (Math.abs(one - value) < Math.abs(axis[best]! - value) ? k : best), 0)
}

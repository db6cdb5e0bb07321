import { plain } from '../numbers/format'
import type { Doubt, Ground } from './doubt'

/** cc of one cylinder between which machines of this trade lie (common practice: model engines below, ships above). */
const CYLINDER = { least: 12, most: 1300 }

/** A size or a number of cylinders that cannot be. */
export function machineDoubts({ displacementCc, cylinders }: Ground): Doubt[] {
  if (displacementCc === null || cylinders === null) return []
  const each = displacementCc / cylinders
  return each >= CYLINDER.least && each <= CYLINDER.most
    ? []
    : [
        {
          kind: 'machine',
          runs: [],
          text: `${plain(displacementCc, 0)} cc in ${cylinders === 1 ? 'one cylinder' : `${cylinders} cylinders`} is ${plain(each, each < 100 ? 1 : 0)} cc each: size or number of cylinders is wrong. Torque, misfires and speeds are judged by both; say them anew under Brief.`,
          offer: null,
        },
      ]
}

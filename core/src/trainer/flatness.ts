import { loopZoneAt } from '../simulator/controller'
import { steadyLambda, type Rig } from '../simulator/rig'
import { DEFAULT_TARGET, targetOn } from '../field/target'

/** How far a machine is from its target in truth, %, over the nodes that a case is judged by. */
export interface Flatness {
  rms: number
  worst: number
  nodes: number
}

/** Where a case is judged: what sweeps at the usual stops reach. */
const JUDGED = { fromRpm: 3000, toRpm: 8500, plates: [20, 40, 60, 80, 100] }

/** True departure from the default target in steady running, all cylinders, outside held zones. */
export function trueFlatness(rig: Rig): Flatness {
  const { base } = rig.calibration
  const target = targetOn(base, 'throttle', DEFAULT_TARGET)
  let squares = 0
  let worst = 0
  let nodes = 0
  base.load.forEach((plate, row) =>
    base.rpm.forEach((rpm, column) => {
      const judged = JUDGED.plates.includes(plate) && rpm >= JUDGED.fromRpm && rpm <= JUDGED.toRpm
      if (!judged || loopZoneAt(rig.calibration, rpm, plate)) return
      for (let c = 0; c < rig.engine.cylinders; c++) {
        const off = 100 * (steadyLambda(rig, c, rpm, plate) / target[row]![column]! - 1)
        squares += off * off
        worst = Math.max(worst, Math.abs(off))
        nodes++
      }
    }),
  )
  return { rms: Math.sqrt(squares / nodes), worst, nodes }
}

import type { Breathing, EngineBuild } from './air'
import type { LoopZone } from './controller'
import {
  AVOCET_312,
  CURLEW_449,
  emptyTrim,
  GODWIT_690,
  OPEN_LID,
  OPEN_SILENCER,
  rigFor,
  STOCK_BREATHING,
} from './machines'
import type { Rig } from './rig'

/** A machine that the simulated rig can put on its drum, in one state of its hardware. */
export interface SimulatedMachine {
  id: string
  name: string
  engine: EngineBuild
  breathing: Breathing
  loop: LoopZone[]
  /** what can be edited: the base table, or a trim for each cylinder on top of it */
  edits: 'base' | 'trims'
  /** what its trims hold at first: nothing (left out), or what makes all cylinders alike */
  firstTrims?: 'matched'
}

export const SIMULATED_MACHINES: readonly SimulatedMachine[] = [
  {
    id: 'curlew-449-short-silencer',
    name: 'Curlew 449, short silencer',
    engine: CURLEW_449,
    breathing: OPEN_SILENCER,
    loop: [{ fromRpm: 2300, toRpm: 4200, mostPlate: 12 }],
    edits: 'base',
  },
  {
    id: 'curlew-449-stock',
    name: 'Curlew 449, as it left the works',
    engine: CURLEW_449,
    breathing: STOCK_BREATHING,
    loop: [{ fromRpm: 2300, toRpm: 4200, mostPlate: 12 }],
    edits: 'base',
  },
  {
    id: 'godwit-690-open-lid',
    name: 'Godwit 690, open filter lid',
    engine: GODWIT_690,
    breathing: OPEN_LID,
    loop: [],
    edits: 'trims',
  },
  {
    id: 'avocet-312-short-silencer',
    name: 'Avocet 312, short silencer',
    engine: AVOCET_312,
    breathing: OPEN_SILENCER,
    loop: [{ fromRpm: 2300, toRpm: 4800, mostPlate: 22 }],
    edits: 'base',
  },
]

/** A rig with that machine on its stock calibration. */
export function rigOf({ engine, breathing, loop, edits, firstTrims }: SimulatedMachine): Rig {
  const rig = rigFor(engine, breathing, { loop })
  const { base } = rig.calibration
  if (edits === 'trims')
    rig.calibration.trims = engine.spread.map(({ low, high }) => ({
      ...emptyTrim(base),
      ...(firstTrims && {
        values: base.load.map(() =>
          base.rpm.map((rpm) => 100 * (low + (high - low) * Math.min(1, rpm / engine.redline) - 1)),
        ),
      }),
    }))
  return rig
}

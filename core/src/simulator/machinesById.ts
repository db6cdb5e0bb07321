import type { Breathing, EngineBuild } from './air'
import type { LoopZone } from './controller'
import {
  AVOCET_312,
  CURLEW_437,
  DUNLIN_208,
  emptyTrim,
  GODWIT_712,
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
    id: 'curlew-437-short-silencer',
    name: 'Curlew 437, short silencer',
    engine: CURLEW_437,
    breathing: OPEN_SILENCER,
    loop: [{ fromRpm: 2300, toRpm: 4200, mostPlate: 12 }],
    edits: 'base',
  },
  {
    id: 'curlew-437-stock',
    name: 'Curlew 437, as it left the factory',
    engine: CURLEW_437,
    breathing: STOCK_BREATHING,
    loop: [{ fromRpm: 2300, toRpm: 4200, mostPlate: 12 }],
    edits: 'base',
  },
  {
    id: 'godwit-712-open-lid',
    name: 'Godwit 712, open filter lid',
    engine: GODWIT_712,
    breathing: OPEN_LID,
    loop: [],
    edits: 'trims',
  },
  {
    id: 'dunlin-208-stock',
    name: 'Dunlin 208, as it left the factory',
    engine: DUNLIN_208,
    breathing: STOCK_BREATHING,
    loop: [],
    edits: 'base',
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

import type { Breathing, EngineBuild } from './air'
import type { Table } from '../table/table'
import type { Acceleration, Injectors, LoopZone } from './controller'
import {
  AVOCET_312,
  CURLEW_437,
  accelerationFuel,
  DUNLIN_208,
  DUNNOCK_498,
  emptyTrim,
  GODWIT_712,
  inFilling,
  inPulses,
  OPEN_LID,
  OPEN_SILENCER,
  plateTable,
  rigFor,
  SISKIN_286,
  STOCK_BREATHING,
  WHINCHAT_641,
} from './machines'
import type { Rig } from './rig'

/** A machine that the simulated rig can put on its drum, in one state of its hardware. */
export interface SimulatedMachine {
  id: string
  name: string
  engine: EngineBuild
  breathing: Breathing
  loop: LoopZone[]
  /** what can be edited: the base table, a trim for each cylinder on top of it, pulses in ms, or filling and commanded lambda */
  edits: 'base' | 'trims' | 'pulses' | 'filling'
  /** injectors that the pulses were made for, and those that are fitted: mg/ms, and ms before they open */
  injectors?: { made: Injectors; fitted: Injectors }
  /** what its trims hold at first: nothing (left out), or what makes all cylinders alike */
  firstTrims?: 'matched'
  /** how it answers the hand, where that is not the usual: port film, fuel added, plates by mode, s until fuel is back after a cut */
  film?: { share: number; tau: number }
  acceleration?: Acceleration
  plates?: Table[]
  backS?: number
  /** factor on the factory's fuel, where somebody was at it */
  spoilt?: (rpm: number, plate: number) => number
}

/** Plate tables: one that rushes ahead of the hand, and one that follows it. */
export const RUSHING_PLATE = plateTable((grip, rpm) => 103 * (1 - Math.exp(-grip / (28 + rpm / 800))) + 1)
export const FOLLOWING_PLATE = plateTable((grip) => grip)
/** Somebody fuelled generously everywhere but where the loop hides it. */
export const generous = (_rpm: number, plate: number): number => (plate < 20 ? 1.07 : 1)

/** Injectors of the Siskin: as it left the factory, and a larger set. */
const FACTORY_INJECTORS: Injectors = { flow: 2.6, deadMs: 0.9 }
const LARGER_INJECTORS: Injectors = { flow: 3.2, deadMs: 1.05 }

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
  {
    id: 'dunnock-498-snatchy',
    name: 'Dunnock 498, takes hold like a switch',
    engine: DUNNOCK_498,
    breathing: STOCK_BREATHING,
    loop: [{ fromRpm: 2000, toRpm: 4400, mostPlate: 14 }],
    edits: 'base',
    film: { share: 0.22, tau: 0.28 },
    acceleration: accelerationFuel(4, 0.28),
    plates: [RUSHING_PLATE, FOLLOWING_PLATE],
    backS: 0.18,
    spoilt: generous,
  },
  {
    id: 'siskin-286-pulses',
    name: 'Siskin 286, pulses in ms',
    engine: SISKIN_286,
    breathing: OPEN_SILENCER,
    loop: [],
    edits: 'pulses',
    injectors: { made: FACTORY_INJECTORS, fitted: FACTORY_INJECTORS },
  },
  {
    id: 'siskin-286-larger-injectors',
    name: 'Siskin 286, larger injectors fitted',
    engine: SISKIN_286,
    breathing: OPEN_SILENCER,
    loop: [],
    edits: 'pulses',
    injectors: { made: FACTORY_INJECTORS, fitted: LARGER_INJECTORS },
  },
  {
    id: 'whinchat-641-filling',
    name: 'Whinchat 641, filling and commanded lambda',
    engine: WHINCHAT_641,
    breathing: OPEN_LID,
    loop: [],
    edits: 'filling',
  },
]

/** A rig with that machine on its stock calibration. */
export function rigOf({ engine, breathing, loop, edits, firstTrims, injectors, ...hand }: SimulatedMachine): Rig {
  const { film, acceleration, plates, backS, spoilt } = hand
  const rig = rigFor(engine, breathing, {
    loop,
    ...(acceleration && { acceleration }),
    ...(plates && { plates }),
    ...(backS && { backS }),
  })
  if (film) rig.film = film
  if (spoilt) {
    const { rpm, load, values } = rig.calibration.base
    rig.calibration.base = {
      ...rig.calibration.base,
      values: values.map((row, r) => row.map((value, c) => value * spoilt(rpm[c]!, load[r]!))),
    }
  }
  if (injectors) rig.calibration = { ...inPulses(rig.calibration, injectors.made), injectors: injectors.fitted }
  if (edits === 'filling') rig.calibration = inFilling(rig)
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

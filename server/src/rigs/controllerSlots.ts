import { type Calibration, type Matrix, type Rig, type SimulatedMachine, type Table } from '@yuzumix/core'
import type { ControllerTable } from './rigLink'

/** A table of a simulated controller, and the place where its values go. */
export interface ControllerSlot extends Omit<ControllerTable, 'table'> {
  table(): Table
  load(values: Matrix): void
}

/** The tables of a simulated controller that can be edited, in the order in which its memory holds them: fuel, then spark. */
export function controllerSlots(rig: Rig, machine: SimulatedMachine): ControllerSlot[] {
  const { calibration }: { calibration: Calibration } = rig
  const fuel =
    machine.edits === 'trims'
      ? calibration.trims.map((_, c): ControllerSlot => ({
          id: `trim-${c + 1}`,
          name: `Trim, cylinder ${c + 1}`,
          cylinder: c + 1,
          table: () => calibration.trims[c]!,
          load: (values) =>
            void (calibration.trims = calibration.trims.map((one, k) => (k === c ? { ...one, values } : one))),
        }))
      : [
          {
            id: 'base',
            name: BASE_NAMES[machine.edits],
            cylinder: null,
            table: () => calibration.base,
            load: (values: Matrix) => void (calibration.base = { ...calibration.base, values }),
          },
        ]
  return [
    ...fuel,
    ...commandedSlot(calibration),
    {
      id: 'spark',
      name: 'Spark advance',
      cylinder: null,
      table: () => calibration.spark,
      load: (values) => void (calibration.spark = { ...calibration.spark, values }),
    },
    ...handSlots(calibration),
  ]
}

const BASE_NAMES = { base: 'Fuel, mg per cycle', pulses: 'Pulse, ms', filling: 'Filling, %' } as const

/** The table that commands lambda, beside one of filling. */
function commandedSlot(calibration: Calibration): ControllerSlot[] {
  if (!calibration.filling) return []
  return [
    {
      id: 'commanded',
      name: 'Commanded lambda',
      cylinder: null,
      table: () => calibration.filling!.commanded,
      load: (values) =>
        void (calibration.filling = {
          ...calibration.filling!,
          commanded: { ...calibration.filling!.commanded, values },
        }),
    },
  ]
}

/** Tables of the answer to the hand, where a controller has them: fuel added as the plate opens, plate by grip for each mode. */
function handSlots(calibration: Calibration): ControllerSlot[] {
  const { acceleration, plates = [] } = calibration
  return [
    ...(acceleration
      ? [
          {
            id: 'acceleration',
            name: 'Acceleration fuel, % by plate speed',
            cylinder: null,
            table: () => calibration.acceleration!.amount,
            load: (values: Matrix) =>
              void (calibration.acceleration = {
                ...calibration.acceleration!,
                amount: { ...calibration.acceleration!.amount, values },
              }),
          },
        ]
      : []),
    ...plates.map((_, mode): ControllerSlot => ({
      id: `plate-${mode + 1}`,
      name: `Plate by grip, mode ${mode + 1}`,
      cylinder: null,
      table: () => calibration.plates![mode]!,
      load: (values) =>
        void (calibration.plates = calibration.plates!.map((one, k) => (k === mode ? { ...one, values } : one))),
    })),
  ]
}

import { checkTable, isRefusal, rigOf, SIMULATED_MACHINES, TRAINER_CASES } from '@yuzumix/core'
import { controllerSlots } from './controllerSlots'
import type { RigMemory } from './rigMemory'

/**
 * What keeps a memory from being that of a machine's simulated rig, in words; null where it fits, or the machine is not known any more
 * and nobody will ask for it.
 */
export function rigMemoryFault(machineId: string, { first, kept }: Pick<RigMemory, 'first' | 'kept'>): string | null {
  const machine =
    SIMULATED_MACHINES.find((one) => one.id === machineId) ??
    TRAINER_CASES.find((one) => one.machine.id === machineId)?.machine
  if (!machine) return null
  const slots = controllerSlots(rigOf(machine), machine)
  for (const contents of [first, kept]) {
    if (contents.length > slots.length) return `it holds ${contents.length} tables, and the controller ${slots.length}`
    for (const [k, values] of contents.entries()) {
      try {
        checkTable({ ...slots[k]!.table(), values })
      } catch (error) {
        if (!isRefusal(error)) throw error
        return `${slots[k]!.name}: ${error.message}`
      }
    }
  }
  return null
}

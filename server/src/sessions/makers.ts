import { SIMULATED_MACHINES, type BenchChoice, type Job } from '@yuzumix/core'
import type { Store } from '../store/database'
import type { Benches } from './benches'
import { connectSimulated } from './connect'
import type { BenchSession } from '../sessions/session'

/** Connects a rig of one maker to a job, as it was chosen. */
type Maker = (store: Store, benches: Benches, job: Job, choice: BenchChoice) => Promise<BenchSession>

/** Every maker of rigs by the name that a choice gives; a real rig is another line here. */
export const MAKERS: Record<BenchChoice['maker'], Maker> = {
  simulated(store, benches, job, choice) {
    const machine = SIMULATED_MACHINES.find((one) => one.id === choice.machine)!
    return connectSimulated(store, benches, job.id, { ...choice, machine, name: machine.name, fuel: job.fuel?.id })
  },
}

import { SIMULATED_MACHINES, type BenchChoice, type Job } from '@yuzumix/core'
import type { Store } from '../store/database'
import type { Benches } from './benches'
import { connectSimulated } from './connect'
import { connectLines } from './connectLines'
import type { BenchSession } from '../sessions/session'

/** Connects a rig of one maker to a job, as it was chosen. */
type Maker<Choice> = (store: Store, benches: Benches, job: Job, choice: Choice) => Promise<BenchSession>
type ChoiceOf<Name extends BenchChoice['maker']> = Extract<BenchChoice, { maker: Name }>

/** Every maker of rigs by the name that a choice gives; a real rig is another line here. */
const MAKERS: { [Name in BenchChoice['maker']]: Maker<ChoiceOf<Name>> } = {
  lines: connectLines,
  simulated(store, benches, job, choice) {
    const machine = SIMULATED_MACHINES.find((one) => one.id === choice.machine)!
    return connectSimulated(store, benches, job.id, { ...choice, machine, name: machine.name, fuel: job.fuel?.id })
  },
}

/** Connects the rig that was chosen. */
export const connectRig = (store: Store, benches: Benches, job: Job, choice: BenchChoice): Promise<BenchSession> =>
  (MAKERS[choice.maker] as Maker<BenchChoice>)(store, benches, job, choice)

import { fuelById, sound, USUAL_RON, type RigFaults, type SimulatedMachine, type Weather } from '@yuzumix/core'
import type { Store } from '../store/database'
import { loadRigMemory, saveRigMemory } from '../store/rigs'
import type { Benches } from './benches'
import { beginSession } from './beginSession'
import { benchSession } from './benchSession'
import type { BenchSession } from './session'
import { simulatedRig, type SimulatedRig } from '../rigs/simulatedRig'

export interface Connecting {
  machine: SimulatedMachine
  name: string
  faults?: RigFaults
  seed?: number | undefined
  speed?: number | undefined
  coolantC?: number | undefined
  weather?: Weather | undefined
  /** what is in the tank, by its id */
  fuel?: string | undefined
}

const DEFAULT_COOLANT = 24
/** The air in which the machines were calibrated at the factory. */
const FACTORY_WEATHER: Weather = { temperatureC: 21, pressureKpa: 100.6, humidityPct: 0 }

/** Simulated rigs by session: what only a stand-in has. */
const rigs = new WeakMap<BenchSession, SimulatedRig>()

/** The simulated rig of a session; undefined where a real one is connected. */
export function simulatedOf(session: BenchSession): SimulatedRig | undefined {
  return rigs.get(session)
}

/** Connects the simulated rig to a job, with what that machine's rig remembers from before in this job. */
export async function connectSimulated(
  store: Store,
  benches: Benches,
  job: string,
  { machine, name, faults, seed, speed, coolantC, weather, fuel }: Connecting,
): Promise<BenchSession> {
  const link = simulatedRig({
    machine,
    name,
    clock: benches.clock,
    faults: faults ?? sound(machine.engine.cylinders),
    seed: seed ?? 1,
    speed: speed ?? 1,
    coolant: coolantC ?? DEFAULT_COOLANT,
    weather: weather ?? FACTORY_WEATHER,
    ron: fuelById(fuel ?? '')?.ron ?? USUAL_RON,
    memory: await loadRigMemory(store, job, machine.id),
    remember: (memory) => saveRigMemory(store, job, machine.id, memory),
  })
  const session = benchSession(store, job, link, benches.clock)
  rigs.set(session, link)
  if (link.state().readable) await session.measured()
  await session.readAim()
  return beginSession(store, benches, session)
}

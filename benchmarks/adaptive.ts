import { adaptivePasses, measurableRig } from '../core/trials/adaptivePasses'
import { guidedPasses, usualSweeps } from '../core/trials/guidedPasses'
import { DEFAULT_LIVE, liveRig } from '../core/src/simulator/liveRig'
import { rigOf, SIMULATED_MACHINES } from '../core/src/simulator/machinesById'
import { DEFAULT_PACE } from '../core/src/plan/choice'
import { runMinutes } from '../core/src/plan/makePlan'
import type { Measured } from './measured'

const SEEDS = 20
const MACHINE = 'curlew-437-short-silencer'
const STOPS = [5, 10, 20, 30, 40, 60, 80, 100]
const REPEATS = 3

const machine = (seed: number) => {
  const rig = rigOf(SIMULATED_MACHINES.find((one) => one.id === MACHINE)!)
  return [rig, liveRig(rig, { ...DEFAULT_LIVE, coolant: 84 }, seed)] as const
}
const mean = (values: readonly number[]): number => values.reduce((sum, one) => sum + one, 0) / values.length

/** Runs and simulated minutes until a machine is flat: the adaptive plan beside the fixed routine, over twenty seeds. */
export async function adaptiveAgainstFixed(): Promise<Measured[]> {
  const adapted = Array.from({ length: SEEDS }, (_, k) => adaptivePasses(measurableRig(...machine(k + 1))))
  const scripts = usualSweeps({ stops: STOPS, repeats: REPEATS, rate: 600 })
  const minutesOf = (stop: number): number => {
    const { run, pause } = runMinutes('sweep', stop, DEFAULT_PACE)
    return REPEATS * (run + pause)
  }
  const pass = STOPS.reduce((sum, stop) => sum + minutesOf(stop), 0)
  const fixed = guidedPasses(...machine(1), scripts, 3).length
  const runs = adapted.map((one) => one.runs)
  return [
    {
      what: 'runs until flat, adaptive plan against eight stops x three',
      value: `${mean(runs).toFixed(1)} runs (most ${Math.max(...runs)}), ${mean(adapted.map((one) => one.minutes)).toFixed(1)} min; fixed ${scripts.length} a pass, ${fixed} passes, ${(fixed * pass).toFixed(0)} min`,
      budget: 'half of 24',
      met: Math.max(...runs) <= scripts.length / 2 && adapted.every((one) => one.last.enough),
    },
  ]
}

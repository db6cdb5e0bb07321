/**
 * The whole way on the simulated machine: measured, one plate table "torque straight with the grip" written, and one pass of
 * acceleration fuel. By the same functions that page and HTTP interface use.
 */
import { accelerationChange } from '../src/response/rollOns/accelerationChange'
import { askPlate } from '../src/response/grip/askPlate'
import { respond } from '../src/response/response'
import { risingAt } from '../src/response/grip/knotsAt'
import { torqueCurve, torqueMap } from '../src/response/grip/torqueMap'
import type { RunScript } from '../src/rig/runScript'
import type { RunColumns } from '../src/run/run'
import { DEFAULT_LIVE, liveRig } from '../src/simulator/liveRig'
import { rigOf, SIMULATED_MACHINES } from '../src/simulator/machinesById'
import { runScript } from '../src/simulator/runScript'
import { interpolate } from '../src/table/lookup'
import { seeds } from './seeds'

const GEAR = 4
const sweep = (stop: number): RunScript => ({ kind: 'sweep', stop, fromRpm: 2000, toRpm: 9000, rate: 700, gear: GEAR })
const ROLL_ONS: RunScript[] = [2500, 4500].flatMap((fromRpm) =>
  [15, 40].flatMap((stop) =>
    [1, 2].map(() => ({ kind: 'roll-on', fromRpm, fromStop: 2, stop, seconds: 2.6, gear: GEAR }) as const),
  ),
)
const SPEEDS = [2500, 3500, 4500, 5500, 6500, 7500, 8500]

/** Mean torque of a sweep about a speed; NaN where it did not come there. */
function torqueAt({ time, rpm, torque }: RunColumns, speed: number): number {
  let [sum, count] = [0, 0]
  time.forEach((t, i) => {
    if (t > 1.6 && t < time[time.length - 1]! - 1.8 && Math.abs(rpm[i]! - speed) < 60) {
      sum += torque![i]!
      count++
    }
  })
  return sum / count
}

test.each(seeds(20, 1))('torque follows the grip, and the lean peak goes, seed %i', (seed) => {
  const rig = rigOf(SIMULATED_MACHINES.find((one) => one.id === 'dunnock-498-snatchy')!)
  const live = liveRig(rig, { ...DEFAULT_LIVE, coolant: 85 }, seed)
  const run = (scripts: readonly RunScript[], of: string): RunColumns[] =>
    scripts.map((script, k) => runScript(live, script, `${of} ${k}`))
  const sweeps = run([1, 2, 4, 7, 11, 16, 22, 30, 45, 65, 100].map(sweep), 'sweep')
  const before = respond([...sweeps, ...run(ROLL_ONS, 'roll-on')])

  // The measured map is what the controller holds.
  const plate = rig.calibration.plates![0]!
  let [squares, count] = [0, 0]
  before.grip!.grip.forEach((grip, g) =>
    before.grip!.rpm.forEach((rpm, k) => {
      const value = before.grip!.plate[g]![k]
      if (value == null) return
      squares += (value - interpolate(plate, plate.values, rpm, grip)) ** 2
      count++
    }),
  )
  expect(count).toBeGreaterThan(60)
  expect(Math.sqrt(squares / count)).toBeLessThan(1)

  const made = askPlate(sweeps, {
    wish: { shape: 'torque straight' },
    mode: null,
    now: { grip: plate.load, rpm: plate.rpm, values: plate.values },
    others: [],
    reason: null,
  })
  rig.calibration.plates![0] = { ...plate, values: made.values }
  const grips = [6, 10, 20, 33, 50, 75, 100]
  const after = run(grips.map(sweep), 'after')
  const map = torqueMap(sweeps)!
  for (const rpm of SPEEDS) {
    const full = torqueAt(after.at(-1)!, rpm)
    const shut = risingAt(torqueCurve(map, rpm)!)(1).value
    grips.forEach((grip, k) => {
      const torque = torqueAt(after[k]!, rpm)
      // At a small grip the engine does not turn the drum that fast.
      if (torque === torque) expect(Math.abs(torque - (shut + ((full - shut) * grip) / 100)) / full).toBeLessThan(0.04)
    })
  }

  rig.calibration.plates![0] = plate
  const acceleration = rig.calibration.acceleration!
  const { values } = accelerationChange(acceleration.amount, before.groups)
  rig.calibration.acceleration = { ...acceleration, amount: { ...acceleration.amount, values } }
  // The second pass is a set of its own.
  const again = respond(run(ROLL_ONS, 'roll-on'))
  const peak = (groups: typeof before.groups): number =>
    groups.reduce((sum, one) => sum + one.leanPct[0], 0) / groups.length
  expect(peak(before.groups)).toBeGreaterThan(5)
  expect(peak(again.groups)).toBeLessThan(peak(before.groups) / 3)
})

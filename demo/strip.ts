import { writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { seededRandom } from '../core/src/numbers/random'
import { addPass } from '../server/src/acts/handling/passes'
import type { Workshop } from '../server/src/acts/questions/ask'
import { addLog } from '../server/src/intake/addLog'
import { createJob } from '../server/src/store/jobs'
import { createSet } from '../server/src/store/sets'

/** What a machine is at a strip: W of power, m/s² that the tyre holds, and its mixture in each gear. */
interface Machine {
  power: number
  grip: number
  lambda: number
}

const GEARS = { shiftKmh: [55, 88, 118, Infinity], rpmPerKmh: [180, 120, 92, 75] }
const STEP = 0.05

/** Two passes as a logger beside the engine has them, twenty rows a second; an engine by formulas. */
function stripLog({ power, grip, lambda }: Machine, seed: number): string {
  const { normal } = seededRandom(seed)
  const rows = ['Time (s),Engine RPM,ThrPos,WB_O2,Speed (km/h),EGT 1']
  let t = 0
  const row = (kmh: number, rpm: number, throttle: number, mixture: number): void => {
    const cells = [t, rpm + 25 * normal(), throttle, mixture + 0.004 * normal(), Math.max(0, kmh + 0.2 * normal())]
    rows.push([...cells, 420 + rpm / 30].map((one) => one.toFixed(3)).join(','))
    t += STEP
  }
  for (let pass = 0; pass < 2; pass++) {
    for (let k = 0; k < 100; k++) row(0, 1600, 1, 1)
    let [v, distance, gear] = [0, 0, 0]
    for (let k = 0; distance < 440; k++) {
      const pull = Math.min(grip * Math.min(1, (k * STEP) / 0.3), power / 262 / Math.max(v, 1))
      v += (pull - (0.36 * v * v) / 262) * STEP * (1 + 0.004 * normal())
      distance += v * STEP
      const kmh = 3.6 * v
      if (kmh > GEARS.shiftKmh[gear]!) gear++
      // The tyre lets go a little at first, and less and less.
      const spins = 1 + Math.max(0, 0.14 * (1 - kmh / 50))
      row(kmh, Math.max(4200, kmh * GEARS.rpmPerKmh[gear]! * spins), 100, lambda + [0.03, 0.005, 0, -0.005][gear]!)
    }
    for (; v > 0.3; v -= 0.25) row(3.6 * v, 2400, 1, 1.25)
  }
  return `${rows.join('\n')}\n`
}

/** A day at the strip: two logged passes as it came, two on a larger main jet, and a slip of a friend with a clock. */
export async function stripStory(workshop: Workshop, folder: string): Promise<void> {
  const { store, pool } = workshop
  const never = new AbortController().signal
  const job = await createJob(store, {
    title: 'Wheatear 310, a day at the strip',
    machine: { name: 'Wheatear 310 twin', cylinders: 2, displacementCc: 310, strokes: 4 },
    rigging: { fuelling: 'carburetted', drive: 'road' },
  })
  const weather = { temperatureC: 19, pressureKpa: 100.9, humidityPct: 52 }
  const states: [string, Machine][] = [
    ['Main 140, as it came', { power: 30_800, grip: 6.3, lambda: 0.93 }],
    ['Main 145', { power: 32_100, grip: 6.3, lambda: 0.905 }],
  ]
  for (const [k, [name, machine]] of states.entries()) {
    const { id } = await createSet(store, job.id, { name, setup: name, weather })
    const path = join(folder, 'log.csv')
    await writeFile(path, stripLog(machine, 61 + k))
    const log = { path, name: `Strip, ${name}.csv`, kind: 'road' as const, set: id }
    const [run] = await addLog({ store, pool }, job, log, () => undefined, never)
    await addPass(workshop, job, { run: run!.id }, never)
    if (k === 1)
      await addPass(
        workshop,
        job,
        {
          name: 'Last one, from the slip',
          set: id,
          reactionS: 0.487,
          note: 'shifted late into third',
          splits: [
            { distanceM: 18.288, timeS: 2.19, speedKmh: null },
            { distanceM: 201.168, timeS: 8.77, speedKmh: 127.4 },
            { distanceM: 402.336, timeS: 13.98, speedKmh: 145.1 },
          ],
        },
        never,
      )
  }
}

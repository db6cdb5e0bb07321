import { interpolate, type LoadGrid } from '@yuzumix/core'
import { seededRandom } from '../core/src/numbers/random'

export const GRID: LoadGrid = {
  loadAxis: 'throttle',
  rpm: Array.from({ length: 20 }, (_, k) => 1000 + 500 * k),
  load: [0, 2, 5, 10, 15, 20, 30, 40, 60, 80, 90, 100],
}

/** Sweeps over the whole table with noise and one reading in twenty far off. */
export function benchSamples(count: number): { rpm: Float32Array; load: Float32Array; y: Float32Array } {
  const random = seededRandom(1)
  const truth = GRID.load.map((load) => GRID.rpm.map((rpm) => 0.08 * Math.sin(rpm / 1500) + load / 2000))
  const rpm = new Float32Array(count)
  const load = new Float32Array(count)
  const y = new Float32Array(count)
  for (let i = 0; i < count; i++) {
    rpm[i] = 1000 + 9500 * ((i % 500) / 500)
    load[i] = GRID.load[Math.floor(i / 500) % 12]! + random.normal()
    y[i] = interpolate(GRID, truth, rpm[i]!, load[i]!) + 0.01 * random.normal() + (random.uniform() < 0.05 ? 0.2 : 0)
  }
  return { rpm, load, y }
}

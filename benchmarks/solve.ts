import { writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { place } from '../core/src/field/readings/placement'
import { DEFAULT_SOLVE, solveField } from '../core/src/field/solve/solve'
import type { Measured } from './measured'
import { posteriorField } from '../core/src/field/solve/posterior'
import type { Samples } from '../core/src/field/readings/samples'
import { python } from './python'
import { benchSamples, GRID } from './samples'

const SAMPLES = 1_000_000

/** The samples as twenty runs at 50 Hz. */
function asRuns(rpm: Float32Array, load: Float32Array): Samples {
  const each = SAMPLES / 20
  return {
    count: SAMPLES,
    time: rpm.map((_, i) => (i % each) / 50),
    rpm,
    load,
    run: Uint16Array.from(rpm, (_, i) => Math.floor(i / each)),
    lambda: [],
    torque: null,
    trim: null,
    doubtful: null,
    setAside: [],
    usable: [],
  }
}

/** ms that scipy took for its solve in this run of the benchmarks; null before it was measured. */
export const scipy: { ms: number | null } = { ms: null }

/** The robust solve against the same rounds in numpy and scipy.sparse. */
export async function solveAgainstScipy(folder: string): Promise<Measured[]> {
  const { rpm, load, y } = benchSamples(SAMPLES)
  let [best, alone] = [Infinity, Infinity]
  let x = new Float64Array(0)
  const samples = asRuns(rpm, load)
  for (let k = 0; k < 3; k++) {
    const start = performance.now()
    const placement = place(GRID, rpm, load)
    const solution = solveField(GRID, placement, y, DEFAULT_SOLVE)
    x = solution.x as Float64Array<ArrayBuffer>
    const robust = performance.now() - start
    posteriorField(GRID, placement, samples, y, solution, 0.01)
    alone = Math.min(alone, robust)
    best = Math.min(best, performance.now() - start)
  }
  const file = join(folder, 'samples.f32')
  await writeFile(file, Buffer.concat([rpm, load, y].map((column) => Buffer.from(column.buffer))))
  const theirs = python<{ ms: number; x: number[] }>('solve.py', [file, JSON.stringify({ ...GRID, ...DEFAULT_SOLVE })])
  scipy.ms = theirs.ms
  const apart = Math.max(...theirs.x.map((value, k) => Math.abs(value - x[k]!)))
  const ratio = best / theirs.ms
  return [
    {
      what: 'robust field solve with posterior, 1,000,000 samples, 20 x 12 nodes',
      value: `${ratio.toFixed(3)} of scipy (${alone.toFixed(0)} solve, ${best.toFixed(0)} with posterior / ${theirs.ms.toFixed(0)} ms), apart ${apart.toExponential(1)}`,
      budget: '0.2',
      met: ratio <= 0.2 && apart < 1e-3,
    },
  ]
}

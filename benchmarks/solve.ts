import { writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { place } from '../core/src/field/placement'
import { DEFAULT_SOLVE, solveField } from '../core/src/field/solve'
import type { Measured } from './measured'
import { python } from './python'
import { benchSamples, GRID } from './samples'

const SAMPLES = 1_000_000

/** The robust solve against the same rounds in numpy and scipy.sparse. */
export async function solveAgainstScipy(folder: string): Promise<Measured[]> {
  const { rpm, load, y } = benchSamples(SAMPLES)
  let best = Infinity
  let x = new Float64Array(0)
  for (let k = 0; k < 3; k++) {
    const start = performance.now()
    x = solveField(GRID, place(GRID, rpm, load), y, DEFAULT_SOLVE).x as Float64Array<ArrayBuffer>
    best = Math.min(best, performance.now() - start)
  }
  const file = join(folder, 'samples.f32')
  await writeFile(file, Buffer.concat([rpm, load, y].map((column) => Buffer.from(column.buffer))))
  const theirs = python<{ ms: number; x: number[] }>('solve.py', [file, JSON.stringify({ ...GRID, ...DEFAULT_SOLVE })])
  const apart = Math.max(...theirs.x.map((value, k) => Math.abs(value - x[k]!)))
  const ratio = best / theirs.ms
  return [
    {
      what: 'robust field solve, 1,000,000 samples, 20 x 12 nodes',
      value: `${ratio.toFixed(3)} of scipy (${best.toFixed(0)} / ${theirs.ms.toFixed(0)} ms), apart ${apart.toExponential(1)}`,
      budget: '0.2',
      met: ratio <= 0.2 && apart < 1e-3,
    },
  ]
}

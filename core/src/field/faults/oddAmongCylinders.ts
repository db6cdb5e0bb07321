import type { LoadGrid } from '../../table/table'
import { keepSamples, type Samples } from '../readings/samples'
import type { Solved } from '../solve/solveCylinder'
import { findOddRuns, type OddBand } from './oddRuns'

/** Odd bands over all cylinders. */
export function oddAmongCylinders(grid: LoadGrid, cylinders: readonly (Solved | null)[]): OddBand[] {
  const bands: OddBand[] = []
  for (const solved of cylinders) {
    if (!solved) continue
    for (const band of findOddRuns(grid, solved.samples, solved.solution.residual)) {
      const known = bands.find((one) => one.run === band.run)
      if (!known) bands.push(band)
      else {
        known.fromRpm = Math.min(known.fromRpm, band.fromRpm)
        known.toRpm = Math.max(known.toRpm, band.toRpm)
      }
    }
  }
  return bands
}

/** Readings without those in odd bands. */
export function withoutOdd(samples: Samples, bands: readonly OddBand[]): Samples {
  if (bands.length === 0) return samples
  const keep = new Uint8Array(samples.count).fill(1)
  for (let i = 0; i < samples.count; i++) {
    if (
      bands.some(
        (band) => band.run === samples.run[i] && samples.rpm[i]! >= band.fromRpm && samples.rpm[i]! < band.toRpm,
      )
    )
      keep[i] = 0
  }
  return keepSamples(samples, keep)
}

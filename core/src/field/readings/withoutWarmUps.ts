import { keepSamples, type Samples } from './samples'

/** Runs that Baseline keeps out of mean and spread are out of the field, too. @param isWarmUp by run */
export function withoutWarmUps(samples: Samples, isWarmUp: readonly boolean[]): Samples {
  if (!isWarmUp.includes(true)) return samples
  const left = keepSamples(
    samples,
    Uint8Array.from(samples.run, (run) => (isWarmUp[run]! ? 0 : 1)),
  )
  const counts = isWarmUp.map(() => 0)
  for (const run of samples.run) counts[run]!++
  return {
    ...left,
    setAside: left.setAside.map((one, r) => (isWarmUp[r] && counts[r] ? { ...one, 'warm-up run': counts[r] } : one)),
  }
}

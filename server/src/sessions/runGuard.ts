import {
  DEFAULT_AIM,
  leanAim,
  loosenedLimits,
  safetyWatch,
  type Danger,
  type Job,
  type LeanAim,
  type RigSample,
  type SafetyLimits,
  type SafetyStop,
} from '@yuzumix/core'

/** What stops a run by itself: limits of the bench, within the rev ceiling and against the mixture that the job wants. */
export function runGuard(usual: SafetyLimits) {
  let limits = usual
  let aim = DEFAULT_AIM
  /** rpm that the brief says no run goes beyond */
  let ceiling = Infinity
  const within = (): SafetyLimits => ({ ...limits, rpm: Math.min(limits.rpm, ceiling) })
  let watch = safetyWatch(usual, aim)
  return {
    limits: within,
    aim: (): LeanAim => aim,
    ceiling: (): number => ceiling,
    /** What the job wants may have changed since it was asked last. */
    read(job: Job): void {
      aim = leanAim(job)
      ceiling = job.limits?.revCeiling ?? Infinity
    },
    /** what a change of the limits would let pass */
    loosened: (change: Partial<SafetyLimits>): Danger[] => loosenedLimits(limits, usual, change),
    change(change: Partial<SafetyLimits>): void {
      limits = { ...limits, ...change }
      watch = safetyWatch(within(), aim)
    },
    /** Begins to watch anew: what the run before had has nothing to say of this one. */
    begin(): void {
      watch = safetyWatch(within(), aim)
    },
    see: (sample: RigSample): SafetyStop | null => watch.see(sample),
  }
}

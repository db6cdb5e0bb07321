import type { SparkBin } from '../src/spark/bin'

/** When everything of a trial was read. */
export const READ_AT = '2026-03-02T10:00:00.000Z'

/** A bin of held points, with what tests do not care about. */
export const steppedBin = (
  bin: Pick<SparkBin, 'stop' | 'rpm' | 'points' | 'present'> & Partial<SparkBin>,
): SparkBin => ({
  source: 'steps',
  isStatic: false,
  presentAt: READ_AT,
  hasKnockChannel: true,
  knockFrom: null,
  ...bin,
})

import type { RunInfo } from './runInfo'

/** How far above what a run as a whole reached a reading may lie and still be the engine's. */
const MOST_ABOVE = 1.15

/**
 * Highest engine speed of some runs, rpm, 0 without any: one reading far above all others of its run is a spike of the
 * signal, and no reason for a table to go that far.
 */
export function highestRpm(runs: readonly Pick<RunInfo, 'channels' | 'facts' | 'readAs'>[]): number {
  return runs.reduce((highest, { channels, facts, readAs }) => {
    const most = (readAs?.speed ?? 1) * (channels.find((one) => one.channel === 'rpm')?.max ?? 0)
    return Math.max(highest, facts ? Math.min(most, MOST_ABOVE * facts.toRpm) : most)
  }, 0)
}

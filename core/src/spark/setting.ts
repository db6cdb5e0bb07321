import type { RunKind } from '../run/runKind'
import type { RunFacts } from '../run/facts'
import { stopsOf, type Stop } from '../run/stops'

/** One setting of the spark that a whole run was made at, as somebody said it: an ignition plate turned by hand. */
export interface SparkSetting {
  /** degrees before top dead centre at the mark, or on whatever scale the plate has */
  advance: number
  /** knock was heard */
  knock: boolean
}

/** What is known of a run beside its columns. */
export interface SettingRun {
  id: string
  kind: RunKind
  facts: RunFacts | null
  setting: SparkSetting | null
  createdAt: string
}

/** Sweeps of one stop made at one setting. */
export interface SettingGroup<Run> {
  /** degrees: as said, or the mean of the spark channel over the sweep */
  advance: number
  /** in the order in which they were made */
  runs: Run[]
}

/** Sweeps whose advance lies closer together than this were made at one setting, degrees. */
const APART = 0.6

/** Advance that a whole run was made at: as somebody said it, else out of its spark channel; null when nobody can tell. */
export function advanceOf(run: Pick<SettingRun, 'setting' | 'facts'>): number | null {
  return run.setting?.advance ?? run.facts?.spark ?? null
}

/** Sweeps by setting, least advance first; those of unknown advance are left out. */
export function settingsOfSweeps<Run extends SettingRun>(sweeps: readonly Run[]): SettingGroup<Run>[] {
  const known = sweeps.filter((run) => advanceOf(run) !== null).sort((a, b) => advanceOf(a)! - advanceOf(b)!)
  const groups: Run[][] = []
  let last = -Infinity
  for (const run of known) {
    const advance = advanceOf(run)!
    if (advance - last > APART) groups.push([])
    groups.at(-1)!.push(run)
    last = advance
  }
  const order = new Map(sweeps.map((run, k) => [run, k]))
  return groups.map((runs) => ({
    advance: Math.round((10 * runs.reduce((sum, run) => sum + advanceOf(run)!, 0)) / runs.length) / 10,
    runs: runs.sort((a, b) => order.get(a)! - order.get(b)!),
  }))
}

/** Stops at which sweeps were made at two settings or more, with them. */
export function stopsAtSettings<Run extends SettingRun>(
  runs: readonly Run[],
): (Stop<Run> & { settings: SettingGroup<Run>[] })[] {
  return stopsOf(runs)
    .map((stop) => ({ ...stop, settings: settingsOfSweeps(stop.runs) }))
    .filter(({ settings }) => settings.length > 1)
}

import { sweepOf } from '../../run/bySweep'
import type { FieldRun } from '../field'

/** What a field tells of sweeps, by the run that they are of; where several are odd, the farthest off is told. */
export function wholeRuns(sweeps: readonly FieldRun[]): FieldRun[] {
  const runs = new Map<string, FieldRun>()
  for (const { id, used, setAside, odd } of sweeps) {
    const { run } = sweepOf(id)
    const known = runs.get(run)
    if (!known) {
      runs.set(run, { id: run, used, setAside: { ...setAside }, odd })
      continue
    }
    known.used += used
    for (const [reason, count] of Object.entries(setAside) as [keyof typeof setAside, number][])
      known.setAside[reason] = (known.setAside[reason] ?? 0) + count
    if (odd && Math.abs(odd.departurePct) > Math.abs(known.odd?.departurePct ?? 0)) known.odd = odd
  }
  return [...runs.values()]
}

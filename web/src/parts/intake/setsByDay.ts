import dayjs from 'dayjs'
import { proposedSets, type RunInfo, type RunSet, type TableInfo } from '@yuzumix/core'

/** Stands for a set that is made for these files; no id is that short. */
export const NEW_SET = 'new'

/** Files of one day, and where they are to go. */
export interface DayOfFiles {
  /** in words */
  day: string
  files: File[]
  /** id of a set; NEW_SET for one of their own */
  set: string
  /** why that is proposed */
  why: string
}

/**
 * Files by the day they were written, oldest first, each day with the set that is proposed for it.
 *
 * @param ground sets oldest first, runs and tables of the job
 */
export function setsByDay(
  files: readonly File[],
  ground: { sets: readonly RunSet[]; runs: readonly RunInfo[]; tables: readonly TableInfo[] },
): DayOfFiles[] {
  const byDay = new Map<string, File[]>()
  for (const file of [...files].sort((a, b) => a.lastModified - b.lastModified)) {
    const day = dayjs(file.lastModified).format('D MMM YYYY')
    byDay.set(day, [...(byDay.get(day) ?? []), file])
  }
  const days = [...byDay.keys()]
  if (days.length === 0) return []
  const proposed = proposedSets(days, ground)
  return days.map((day, k) => ({
    day,
    files: byDay.get(day)!,
    set: proposed[k]!.set ?? NEW_SET,
    why: proposed[k]!.why,
  }))
}

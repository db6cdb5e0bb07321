import { REASONS, type Reason, type RunColumns } from './run'
import { screenRun, type ScreenOptions } from './screen'

/** A part of a run whose readings are set aside for one reason, s. */
export interface SetAsideSpan {
  from: number
  to: number
  reason: Reason
}

/** Parts of a run whose readings do not count, and why, in order; none of a run that the load axis cannot place. */
export function setAsideSpans(run: RunColumns, options: Omit<ScreenOptions, 'marks'>): SetAsideSpan[] {
  const marks = new Uint8Array(run.time.length)
  if (run.handRange || !screenRun(run, { ...options, marks })) return []
  const spans: SetAsideSpan[] = []
  for (let i = 0; i < marks.length; i++) {
    const code = marks[i]!
    if (code === 0) continue
    const from = i
    while (i + 1 < marks.length && marks[i + 1] === code) i++
    const end = Math.min(marks.length - 1, i + 1)
    spans.push({ from: run.time[from]!, to: run.time[end]!, reason: REASONS[code - 1]! })
  }
  return spans
}

import { ElMessage } from 'element-plus'
import { ProblemError } from './client'

/** Tells what went wrong, with the fields at fault, long enough to read. */
export function sayProblem(error: unknown): void {
  const text = (error as Error).message
  // What the sentence says already is not said again behind it.
  const more =
    error instanceof ProblemError ? error.faults.map((one) => one.message).filter((one) => !text.includes(one)) : []
  ElMessage({
    type: 'error',
    message: more.length ? `${text} (${more.slice(0, 3).join('; ')})` : text,
    duration: 9000,
    showClose: true,
    grouping: true,
  })
}

export function sayDone(text: string): void {
  ElMessage({ type: 'success', message: text, duration: 3500, grouping: true })
}

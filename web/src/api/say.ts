import { ElMessage } from 'element-plus'
import { ProblemError } from './client'

/** Tells what went wrong, with the fields at fault, long enough to read. */
export function sayProblem(error: unknown): void {
  const faults =
    error instanceof ProblemError
      ? error.faults.map(({ field, message }) => (field ? `${field}: ${message}` : message))
      : []
  const text = (error as Error).message
  ElMessage({
    type: 'error',
    message: faults.length && !text.includes(faults[0]!) ? `${text} (${faults.slice(0, 3).join('; ')})` : text,
    duration: 9000,
    showClose: true,
    grouping: true,
  })
}

export function sayDone(text: string): void {
  ElMessage({ type: 'success', message: text, duration: 3500, grouping: true })
}

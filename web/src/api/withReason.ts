import { asksForReason, isRefusal, type Refusal } from '@yuzumix/core'
import { ElMessageBox } from 'element-plus'

/** Whether something was refused until somebody says why it must be. */
const wantsReason = (error: unknown): error is Refusal => isRefusal(error) && asksForReason(error)

/**
 * Asks why something that can hurt is done all the same, in a dialog.
 *
 * @returns the reason; null when it is left
 */
export async function askReason(title: string, text: string): Promise<string | null> {
  const asked = await ElMessageBox.prompt(text, title, {
    confirmButtonText: 'Do it all the same',
    cancelButtonText: 'Leave it',
    inputPlaceholder: 'Why must it be, this once?',
    inputValidator: (given) => given?.trim().length > 0 || 'Say why; it is kept in the logbook.',
  }).catch(() => null)
  return asked ? asked.value.trim() : null
}

/**
 * Does something; where the gate wants a reason, asks for one and does it again with it.
 *
 * @returns null when it was left
 * @throws what the work rejects with, otherwise
 * @example
 * const job = await withReason((override) => api.readArchive(formOf({ file, override })))
 */
export async function withReason<T>(work: (override?: string) => Promise<T>): Promise<T | null> {
  let reason: string | undefined
  for (;;) {
    try {
      return await work(reason)
    } catch (error) {
      if (!wantsReason(error)) throw error
      const given = await askReason(error.title, error.message)
      if (given === null) return null
      reason = given
    }
  }
}

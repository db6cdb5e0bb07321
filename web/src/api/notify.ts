import { isRefusal } from '@yuzumix/core'
import { ElButton, ElMessage } from 'element-plus'
import { h } from 'vue'

/** Where words about an act stand: over nothing that is named or pressed. */
const placement = 'bottom-right'

/** Tells why a file was refused: it stays until it is closed, for what it says is to be mended in another program. */
export const notifyRefused = (error: unknown): void => notifyProblem(error, 0)

/** Tells what went wrong, with the fields at fault, long enough to read. @param duration ms; 0 until it is closed */
export function notifyProblem(error: unknown, duration = 9000): void {
  const text = (error as Error).message
  // What the sentence says already is not said again behind it.
  const more = isRefusal(error) ? error.faults.map((one) => one.message).filter((one) => !text.includes(one)) : []
  ElMessage({
    type: 'error',
    message: more.length ? `${text} (${more.slice(0, 3).join('; ')})` : text,
    duration,
    placement,
    showClose: true,
    grouping: true,
  })
}

export function notifyDone(text: string): void {
  ElMessage({ type: 'success', message: text, duration: 3500, placement, grouping: true })
}

/** Tells what was done, with a way back for a while. @param undo takes it back; what goes wrong with that is told, too */
export function notifyWithUndo(text: string, undo: () => Promise<unknown>): void {
  const takeBack = (): void => {
    message.close()
    undo().catch(notifyProblem)
  }
  const message = ElMessage({
    message: h('span', [`${text} `, h(ElButton, { size: 'small', onClick: takeBack }, () => 'Undo')]),
    duration: 12_000,
    placement,
    showClose: true,
  })
}

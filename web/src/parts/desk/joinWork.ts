import type { Matrix } from '@yuzumix/core'

/** One's own cells put on top of what was saved meanwhile. */
export interface Joined {
  values: Matrix
  /** cells that were saved otherwise meanwhile, and those of them that one had changed, too: one's own stands there */
  theirs: number
  both: number
}

/**
 * Joins an edit with what somebody else saved since it was begun: cells that were changed here stay as they are, all others are
 * as they were saved.
 *
 * @param base values that the edit was begun on
 */
export function joinWork(base: Matrix, saved: Matrix, mine: Matrix): Joined {
  let [theirs, both] = [0, 0]
  const values = saved.map((cells, row) =>
    cells.map((cell, column) => {
      const [was, own] = [base[row]![column]!, mine[row]![column]!]
      const isTheirs = cell !== was
      const isMine = own !== was
      if (isTheirs) theirs++
      // The same step taken in both windows is one.
      if (isTheirs && isMine && own !== cell) both++
      return isMine ? own : cell
    }),
  )
  return { values, theirs, both }
}

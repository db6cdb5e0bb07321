import type { Quantity } from '@yuzumix/core'

/** A strip of the chart, px from the top. */
export interface Panel {
  quantity: Quantity
  top: number
  height: number
}

/** Shares of the room, from the top. */
const SHARES: readonly [Quantity, number][] = [
  ['torque', 0.38],
  ['power', 0.3],
  ['lambda', 0.32],
]
/** px for a title, and a line that says why there is nothing under it. */
const BARE = 44

/**
 * Where each quantity is drawn. What no run tells takes no more room than to say so.
 *
 * @param room px for all of them
 */
export function panelsIn(room: number, isBare: (quantity: Quantity) => boolean): Panel[] {
  const bare = SHARES.filter(([quantity]) => isBare(quantity)).length
  const left = room - bare * BARE
  const whole = SHARES.reduce((sum, [quantity, share]) => sum + (isBare(quantity) ? 0 : share), 0)
  let top = 2
  return SHARES.map(([quantity, share]) => {
    const height = isBare(quantity) ? BARE : Math.floor((left * share) / whole)
    const panel = { quantity, top, height }
    top += height
    return panel
  })
}

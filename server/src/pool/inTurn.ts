/**
 * Works one after another, in the order in which they were asked for; one that fails keeps no other back.
 *
 * @example
 * const turn = inTurn()
 * const both = Promise.all([turn(() => readLarge('a')), turn(() => readLarge('b'))])
 */
export function inTurn(): <T>(work: () => Promise<T>) => Promise<T> {
  let last: Promise<unknown> = Promise.resolve()
  return (work) => {
    const next = last.then(work)
    last = next.catch(() => undefined)
    return next
  }
}

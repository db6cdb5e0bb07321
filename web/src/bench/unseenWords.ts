/** Rows that no run has seen, in words: those that lie between others, and those of which nothing is known. */
export function unseenWords(
  all: readonly { row: number; isBridged: boolean }[],
  load: readonly number[],
): { bridged: string; unknown: string } {
  const of = (isBridged: boolean): string =>
    all
      .filter((one) => one.isBridged === isBridged)
      .map((one) => `${load[one.row]} %`)
      .join(', ')
  return { bridged: of(true), unknown: of(false) }
}

/** Part of a table that is to ride well, and how well: error in % of fuel. */
export interface Wanted {
  rpm: readonly [from: number, to: number]
  load: readonly [from: number, to: number]
  /** RMS and worst over the range */
  typicalPct: number
  worstPct: number
}

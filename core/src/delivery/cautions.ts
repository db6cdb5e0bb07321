import type { Worst } from './left'

/** What has to be said of a way, as data: `core/src/words` words it. */
export type Caution =
  /** under the rule for load it leaves more than doing nothing */
  | { code: 'worse than nothing'; costPct: number; nothingPct: number }
  /** a place under load ends leaner than 2 % */
  | { code: 'lean under load'; worst: Worst }
  /** what the rule for load costs: richer elsewhere */
  | { code: 'rule costs'; costPct: number; freePct: number }
  /** the pump does not hold it, or hardly */
  | { code: 'pump'; kPa: number; mostKpa: number; fuelPct: number }
  | { code: 'near the pump'; kPa: number; mostKpa: number }
  /** injectors open nearly all the time */
  | { code: 'duty'; cells: number; most: { pct: number; rpm: number; load: number } }
  /** a filling beyond what an engine breathes; `most` in % of the swept volume */
  | { code: 'breathes'; cells: number; most: Worst }
  /** new injectors begin richer than is wanted */
  | { code: 'begins richer'; pct: number }
  /** fuel is taken away under load where nothing was read; the most of it, % */
  | { code: 'leaned unread'; worst: Worst }

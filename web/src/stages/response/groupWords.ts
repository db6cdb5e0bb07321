import type { Advice, Estimate, RollOnGroup } from '@yuzumix/core'
import { grouped, plain } from '@/parts/numbers/format'

/** Estimate with its interval, as "7.2 (6.1 to 8.3)". */
export function estimateText([estimate, low, high]: Estimate, digits = 1): string {
  return `${plain(estimate, digits)} (${plain(low, digits)} to ${plain(high, digits)})`
}

/** A step of the throttle in words. */
export function stepText({ rpm, fromLoad, toLoad }: { rpm: number; fromLoad: number; toLoad: number }): string {
  return `${grouped(Math.round(rpm))} rpm, ${plain(fromLoad, 0)} to ${plain(toLoad, 0)} %`
}

/** What is to be done with the acceleration fuel, in words. */
export function adviceText({ what, pct }: Advice): string {
  switch (what) {
    case 'none':
      return 'No change beyond the spread.'
    case 'more':
      return `More acceleration fuel: ${estimateText(pct)} % of the fuel at the opening.`
    case 'less':
      return `Less acceleration fuel: ${estimateText(pct)} % of the fuel at the opening.`
    case 'slower':
      return `Let the acceleration fuel decay more slowly: ${estimateText(pct, 0)} % longer.`
    case 'quicker':
      return `Let the acceleration fuel decay more quickly: ${estimateText(pct, 0)} % shorter.`
  }
}

/** The excursion that stands out: percent of fuel that is missing above zero, too much below. */
export function mainExcursion({ leanPct, richPct }: RollOnGroup): number {
  return leanPct[0] >= richPct[0] ? leanPct[0] : -richPct[0]
}

import { parseNumber } from './number'

const RATE =
  /\b(?:sampl\w*|log\w*|record\w*|abtast\w*|mess\w*|frequen\w*|fr[eé]quence|data)?[ _-]*(rate|frequency|freq|frequenz|takt|interval|period|intervall|raster)\b[^\d]{0,24}(\d+(?:[.,]\d+)?)\s*(khz|hz|ms|µs|us|s|sec|1\/s)?/i

/**
 * Samples per second that the lines above a header say, as "Sample rate: 50 Hz" or "Interval [ms];20"; null where none does.
 *
 * @example
 * rateOfHead(['Sample rate: 50 Hz']) // 50
 */
export function rateOfHead(lines: readonly string[]): number | null {
  for (const line of lines) {
    const found = RATE.exec(line)
    if (!found) continue
    const value = parseNumber(found[2]!.replace(',', '.'), false)
    const between = line.slice(found.index).toLowerCase()
    const unit = found[3]?.toLowerCase() ?? /[[(]\s*(khz|hz|ms|µs|us|s|sec)\s*[\])]/.exec(between)?.[1] ?? ''
    const isStep = /^(interval|period|intervall|raster)$/i.test(found[1]!)
    const rate = rateFrom(value, unit, isStep)
    if (rate > 0 && rate <= 10_000) return rate
  }
  return null
}

function rateFrom(value: number, unit: string, isStep: boolean): number {
  switch (unit) {
    case 'khz':
      return 1000 * value
    case 'ms':
      return 1000 / value
    case 'us':
    case 'µs':
      return 1e6 / value
    case 's':
    case 'sec':
      return 1 / value
    default:
      // A step without a unit is in milliseconds where it could be no other.
      return isStep ? (value >= 1 ? 1000 / value : 1 / value) : value
  }
}

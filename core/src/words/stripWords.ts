import { plain, signed } from '../numbers/format'
import type { PassesCompared, StripDifference } from '../strip/comparePasses'
import { markName } from '../strip/marks'
import type { NextStep } from '../strip/nextStep'

const range = ({ difference, low, high }: StripDifference, digits: number, unit: string): string =>
  `${signed(difference, digits)} ${unit}` +
  (low === null || high === null ? '' : ` (${signed(low, digits)} to ${signed(high, digits)})`)

/**
 * What passes did against those before, as sentences.
 *
 * @example
 * comparedWords({ passes: [1, 1], marks: [], powerPct: null, atLikeAir: false, tractionS: null, verdict: 'unknown' }) // 'One pass a side tells of no scatter: make a second one of each before a jet is judged.'
 */
export function comparedWords({ marks, powerPct, atLikeAir, tractionS, verdict }: PassesCompared): string {
  if (verdict === 'unknown')
    return 'One pass a side tells of no scatter: make a second one of each before a jet is judged.'
  const air = atLikeAir ? 'at like air' : 'air not taken out, as it was not noted for all'
  const power = powerPct ? `By the cube of end speed ${range(powerPct, 1, '%')} of power, ${air}.` : ''
  const rest = tractionS ? `Time beyond what speed explains: ${range(tractionS, 2, 's')}.` : ''
  const first = marks[0]
  const launch = first ? ` ${markName(first.distanceM)}: ${range(first.timeS, 3, 's')}.` : ''
  const said = {
    power: 'Speed and time tell the same: it is the engine, not the start.',
    quicker: 'The time is another beyond doubt; whether power or the start made it, these passes do not tell.',
    traction: 'Time moved and end speed does not say why: start, grip or gearing, not power.',
    both: 'Engine and start both moved: end speed tells power, and time moved by more than that.',
    apart:
      (powerPct?.difference ?? 0) > 0
        ? 'They disagree: end speed says more power, time was lost on the way. Look at the start and at spin first.'
        : 'They disagree: end speed says less power, time was gained on the way. The start hides what the engine lost.',
    equal: 'No difference beyond doubt.',
  }[verdict]
  return [said, power, rest + launch].filter(Boolean).join(' ')
}

/** What to try next at the strip, as a sentence. */
export function nextStepWords(next: NextStep): string {
  switch (next.kind) {
    case 'fuel': {
      const way = next.pct.difference > 0 ? 'richer' : 'leaner'
      const jet = next.jet
        ? ` Main jet ${plain(next.jet.from, 1)} to ${plain(next.jet.to, 1)}, one step, then read again.`
        : ''
      return `Wide open it wants ${range(next.pct, 1, '%')} of fuel: ${way}.${jet}`
    }
    case 'jet':
      return `The last jet gave ${range(next.powerPct, 1, '%')} of power: one further the same way, ${plain(next.from, 1)} to ${plain(next.to, 1)}, if the mixture or the plug allows it.`
    case 'back':
      return `The last change lost ${range(next.powerPct, 1, '%')} of power: put back what was in${next.to === null ? '' : `, main jet ${plain(next.to, 1)}`}.`
    case 'read':
      return `The last, leaner jet gave ${range(next.powerPct, 1, '%')} of power. Nothing further that way before the mixture is read wide open: what holes a piston is quick until then.`
    case 'keep':
      return next.why === 'mixture'
        ? 'The mixture is where it is wanted: leave the fuel as it is.'
        : 'The last change gained; nothing further the same way lies in the box. Keep it.'
    case 'again':
      return `Nothing is told yet: ${next.passes} more ${next.passes === 1 ? 'pass' : 'passes'} as it is now, before anything is changed (end speeds scatter by ${plain(next.scatterKmh, 1)} km/h).`
  }
}

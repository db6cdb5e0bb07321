import type { Answer, FuelAnswered } from '../delivery/answered'
import type { WayKind } from '../delivery/ways'
import { plain, signed } from '../numbers/format'

/** °C of coolant beyond which warm-up, not the change, may have moved the mixture. */
const WARMER = 8

const figures = ({ expectedPct, answeredPct, lowPct, highPct }: Answer): string =>
  `${signed(answeredPct)} % (${signed(lowPct)} to ${signed(highPct)}) where ${signed(expectedPct)} % was put in`

const CAUSES: Readonly<Record<'less' | 'less under load' | 'more', { pressure: string; other: string }>> = {
  less: {
    pressure:
      'The gauge does not show what the injectors see, the regulator does not hold it, or a loop takes it back.',
    other: 'A loop takes it back, another table acts there, or it was not written.',
  },
  'less under load': {
    pressure:
      'The pump or the filter does not keep up at full flow: measure the pressure there at full load, and do not ride it hard before.',
    other: 'Fuel does not keep up at full flow: pressure, pump, filter, injectors that are open all the time.',
  },
  more: {
    pressure:
      'The gauge reads low, the regulator was opening early before, or its hose to the manifold is off: measure with a second gauge.',
    other: 'Something else moved as well: pressure, air filter, gauge, weather.',
  },
}

/**
 * Whether the mixture answered to what was put in, as sentences.
 *
 * @example
 * answeredWords({ verdict: 'untold', all: null, partLoad: null, fullLoad: null, warmerC: null, steadiness: null }, 'global')[0] // 'Nothing tells yet whether the mixture answered: the same cells have to be read before and after.'
 */
export function answeredWords(
  { verdict, all, partLoad, fullLoad, warmerC, steadiness }: FuelAnswered,
  kind: WayKind,
): string[] {
  const by = kind === 'pressure' ? 'pressure' : 'other'
  const said = (() => {
    if (!all || verdict === 'untold')
      return 'Nothing tells yet whether the mixture answered: the same cells have to be read before and after.'
    if (verdict === 'as explained') return `The mixture answered as it should: ${figures(all)}.`
    if (verdict === 'less under load')
      return `Part load answered: ${figures(partLoad!)}. Full load did not: ${figures(fullLoad!)}. ${CAUSES[verdict][by]}`
    return `The mixture answered by ${verdict} than was put in: ${figures(all)}. ${CAUSES[verdict][by]}`
  })()
  const warmer =
    warmerC !== null && Math.abs(warmerC) > WARMER && verdict !== 'as explained'
      ? [
          `The coolant was ${plain(Math.abs(warmerC), 0)} °C ${warmerC > 0 ? 'warmer' : 'colder'} after: part of it may be warm-up.`,
        ]
      : []
  const steady = steadiness
    ? [
        steadiness.isWorse
          ? `The mixture is less steady since: it scatters by ${plain(steadiness.afterPct, 2)} %, ${plain(steadiness.beforePct, 2)} % before (by chance in ${plain(100 * steadiness.p, 1)} of 100).${by === 'pressure' ? ' That is how a pump at its limit shows.' : ''}`
          : `The mixture is as steady as before: it scatters by ${plain(steadiness.afterPct, 2)} %, ${plain(steadiness.beforePct, 2)} % before.`,
      ]
    : []
  return [said, ...warmer, ...steady]
}

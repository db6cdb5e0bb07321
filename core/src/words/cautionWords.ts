import type { Caution } from '../delivery/cautions'
import type { Worst } from '../delivery/left'
import { MOST_FILLING } from '../fuel/filling'
import { counted, grouped, plain, signed } from '../numbers/format'

/** Where something stands on a map. */
const place = ({ rpm, load }: Pick<Worst, 'rpm' | 'load'>, unit: string): string =>
  `at ${grouped(Math.round(rpm))} rpm and ${plain(load, Number.isInteger(load) ? 0 : 1)} ${unit}`

/**
 * What has to be said of a way, as a sentence.
 *
 * @param unit of the loads
 * @example
 * cautionWords({ code: 'begins richer', pct: 3 }, '%') // 'Everything begins 3 % richer than the old injectors gave: take it back by what the wideband reads.'
 */
export function cautionWords(caution: Caution, unit: string): string {
  switch (caution.code) {
    case 'worse than nothing':
      return `Worse than doing nothing: it would leave ${plain(caution.costPct, 1)} % (lean counted more), no change at all leaves ${plain(caution.nothingPct, 1)} %. No cell under load may be left more than 2 % lean, so the leanest one makes all the others rich.`
    case 'rule costs':
      return `No cell under load is left more than 2 % lean: that leaves ${plain(caution.costPct, 1)} % where ${plain(caution.freePct, 1)} % would be possible, and is richer elsewhere.`
    case 'lean under load':
      return `Leaves ${signed(caution.worst.pct)} % lean under load, ${place(caution.worst, unit)}: put that right in another way, or keep out of it.`
    case 'pump':
      return `The pump holds ${plain(caution.mostKpa, 0)} kPa; ${plain(caution.kPa, 0)} kPa are wanted. At ${plain(caution.mostKpa, 0)} kPa the fuel rises by ${signed(caution.fuelPct)} % and no more. Do not set it: full load would run lean as the pressure drops.`
    case 'near the pump':
      return `${plain(caution.kPa, 0)} kPa lie within 5 % of the ${plain(caution.mostKpa, 0)} kPa that the pump holds: check the pressure at full load before anything else.`
    case 'duty':
      return `${counted(caution.cells, 'cell')} above 85 % duty, ${plain(caution.most.pct, 0)} % ${place(caution.most, unit)}: an injector that cannot shut in time meters nothing. Larger ones, or more pressure.`
    case 'begins richer':
      return `Everything begins ${plain(caution.pct, 0)} % richer than the old injectors gave: take it back by what the wideband reads.`
    case 'breathes':
      return `${counted(caution.cells, 'cell')} of the filling above ${MOST_FILLING} %, ${plain(caution.most.pct, 0)} % ${place(caution.most, unit)}: without a blower no engine breathes that much. Something else makes it lean there; or the commanded lambda is what was meant to change.`
    case 'leaned unread':
      return `Takes ${plain(-caution.worst.pct, 1)} % of fuel away under load where nothing was read, ${place(caution.worst, unit)}: read there first.`
  }
}

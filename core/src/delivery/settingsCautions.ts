import type { Caution } from './cautions'
import { breathesTooMuch } from './filling'
import { BEGINS_RICHER, MOST_DUTY } from './injectors'
import { factorOfPressure } from './pressure'
import type { AskedOf, SettingsOf, WayAsked, WayKind } from './ways'

/** Share of the most that a pump holds from which little is in reserve. Common practice. */
const NEARLY = 0.95

function pumpCautions({ kPa: before, manifoldKpa, mostKpa }: AskedOf<'pressure'>, kPa: number): Caution[] {
  if (mostKpa === undefined || kPa <= NEARLY * mostKpa) return []
  if (kPa <= mostKpa) return [{ code: 'near the pump', kPa, mostKpa }]
  return [{ code: 'pump', kPa, mostKpa, fuelPct: 100 * (factorOfPressure(mostKpa, before, manifoldKpa) - 1) }]
}

function dutyCautions({ table }: AskedOf<'injectors'>, { dutyPct }: SettingsOf['injectors']): Caution[] {
  if (!table || !dutyPct) return []
  const over = dutyPct
    .flatMap((cells, row) => cells.map((pct, column) => ({ pct, rpm: table.rpm[column]!, load: table.load[row]! })))
    .filter((one) => one.pct > MOST_DUTY)
  return over.length ? [{ code: 'duty', cells: over.length, most: over.reduce((a, b) => (b.pct > a.pct ? b : a)) }] : []
}

/** What has to be said of the numbers of a way themselves. */
export function settingsCautions<K extends WayKind>(asked: AskedOf<K>, settings: SettingsOf[K]): Caution[] {
  const way: WayAsked = asked
  if (way.kind === 'pressure') return pumpCautions(way, (settings as SettingsOf['pressure']).kPa)
  if (way.kind === 'filling') {
    const over = breathesTooMuch(way, settings as SettingsOf['filling'])
    return over ? [{ code: 'breathes', ...over }] : []
  }
  if (way.kind !== 'injectors') return []
  const richer: Caution = { code: 'begins richer', pct: 100 * (BEGINS_RICHER - 1) }
  return [richer, ...dutyCautions(way, settings as SettingsOf['injectors'])]
}

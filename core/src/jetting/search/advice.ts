import { plain } from '../../numbers/format'
import type { OpeningReading } from '../model/calibrate'
import { SLOTS_OF, type Body, type Slot } from '../carburettor'
import { zoneDepartures } from '../openingReadings'
import { scatterOf } from './adequacy'
import type { CircuitTarget } from '../model/targets'

/** What moves each range, the handiest first (common practice). */
const MOVERS: Record<CircuitTarget['id'], readonly Slot[]> = {
  idle: ['screw', 'low', 'pilot'],
  pilot: ['screw', 'low', 'pilot', 'cutaway', 'rod'],
  needle: ['clip', 'rod', 'high', 'low', 'needle'],
  full: ['main', 'high'],
}
/** Largest first step of a screw, turns; % of fuel that a quarter turn is about worth (common practice). */
const QUARTER = 0.25
const PER_QUARTER = 8

/** The step of a part in words, for so many percent of fuel; positive is richer. */
function stepWords(slot: Slot, pct: number, { scheme, screwIs }: Body): string {
  const way = pct > 0 ? 'richer' : 'leaner'
  const size = Math.abs(pct)
  switch (slot) {
    case 'screw':
    case 'low':
    case 'high': {
      const out = pct > 0 === (slot !== 'screw' || screwIs === 'fuel')
      // Leaner by half as much at a time: what a turn is worth is not known yet.
      const turns = size >= (pct > 0 ? PER_QUARTER / 2 : 1.5 * PER_QUARTER) ? QUARTER : QUARTER / 2
      return `the ${slot === 'screw' ? 'idle' : slot} screw about ${turns === QUARTER ? 'a quarter' : 'an eighth of a'} turn ${out ? 'out' : 'in'} (${way})`
    }
    case 'clip':
      return `the clip one groove ${pct > 0 ? 'down, so that the needle stands higher' : 'up, so that the needle stands lower'} (${way})`
    case 'main':
    case 'pilot': {
      // Area goes as the square of a diameter; half of what is wanted at the first step, then read again.
      const number = scheme === 'diameter' ? size / 2 : size
      return `the ${slot} jet ${plain(Math.max(1, number / 2), 0)} to ${plain(Math.max(1, number), 0)} % of its number ${pct > 0 ? 'up' : 'down'} (${way})`
    }
    case 'rod':
      return `a rod one step ${pct > 0 ? 'thinner' : 'thicker'} (${way})`
    default:
      return `one step of the ${slot} (${way})`
  }
}

/**
 * What the readings themselves tell, range by range, without any model: direction and a first size, then read again; or that it is good
 * enough. Full
 * throttle first, lean before rich; a range whose readings contradict each other is told as such.
 *
 * @param rows read with what is fitted now
 */
export function readingAdvice(
  rows: readonly OpeningReading[],
  targets: readonly CircuitTarget[],
  body: Body,
): string[] {
  if (rows.length === 0) return []
  const slots = SLOTS_OF[body.kind]
  const departures = zoneDepartures(rows, targets)
  const scatter = scatterOf(rows)
  const unread = departures.some((one) => one.id === 'full' && one.verdict === 'not read')
  const nameOf = (id: CircuitTarget['id']): string => targets.find((one) => one.id === id)!.name
  const told = departures
    .filter((one) => one.verdict === 'lean' || one.verdict === 'rich')
    .sort((a, b) => Number(b.id === 'full') - Number(a.id === 'full') || b.pct! - a.pct!)
    .map(({ id, pct, against, opening, verdict }) => {
      const where = `${nameOf(id)} reads ${plain(Math.abs(pct!), 0)} % ${verdict} at ${Math.round(100 * opening!)} %`
      if (against !== null)
        return `${where}, and ${plain(Math.abs(against), 0)} % ${against > 0 ? 'lean' : 'rich'} elsewhere in its range: no one step serves both. Read it more finely first.`
      const slot = MOVERS[id].find((one) => slots.includes(one))
      return slot ? `${where}: ${stepWords(slot, pct!, body)}, then read again.` : `${where}.`
    })
  const first = unread ? [`${nameOf('full')} was not read, and nothing is leaned there unread. Read it first.`] : []
  const enough =
    told.length === 0 && !unread && scatter === null
      ? ['Good enough: what is left lies within what the gauge can tell. Leave it.']
      : []
  const vague =
    scatter === null
      ? []
      : [`The readings scatter by ±${plain(scatter, 0)} % at an opening: read them again before anything is changed.`]
  return [...vague, ...first, ...told, ...enough]
}

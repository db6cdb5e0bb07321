import { plain } from '../numbers/format'
import type { Columns } from './alignChannels'
import { channelKind, channelTitle } from './channels'
import { withoutDead } from './deadSensors'
import { withoutSpikes } from './spikes'

/**
 * Columns without what is no reading: values that a channel cannot have (a sensor that drops out to 0, a logger's -9999), and
 * spikes of speed, throttle, grip and torque that come and go faster than engine or hand can, and all of a dead sensor of mixture
 * beside one that tells. A blank stands in their place.
 *
 * @param columns all of one length; readings by hand, which have `handRange`, have no spikes
 * @returns columns of the same names, those without an outlier as they are
 * @example
 * Number.isNaN(withoutOutliers({ lambda1: Float32Array.of(0.9, 0, 0.91) }).lambda1[1]) // true
 */
export function withoutOutliers<C extends Columns>(columns: C): C {
  const { time, handRange } = columns
  const clean = Object.fromEntries(
    Object.entries(columns).map(([channel, values]) => {
      if (!values || channel === 'time') return [channel, values]
      const possible = withinRange(channel, values)
      return [channel, time && !handRange ? withoutSpikes(channel, time, possible) : possible]
    }),
  ) as C
  return handRange ? clean : withoutDead(clean)
}

function withinRange(channel: string, values: Float32Array): Float32Array {
  const kind = channelKind(channel)
  if (!kind) return values
  const { least, most } = kind
  let out = values
  for (let i = 0; i < values.length; i++) {
    if (!(values[i]! < least || values[i]! > most)) continue
    if (out === values) out = values.slice()
    out[i] = NaN
  }
  return out
}

/** Share of a channel's readings from which on its outliers are told: fewer happen to every loom. */
const TOLD = 0.002

/** What to say of channels whose readings were outliers, by the columns before and after. */
export function outliersInWords(logged: Columns, clean: Columns): string[] {
  return Object.entries(logged).flatMap(([channel, values]) => {
    const left = clean[channel]
    if (!values || !left || left === values) return []
    const outliers = values.reduce((sum, value, i) => sum + (value === value && Number.isNaN(left[i]) ? 1 : 0), 0)
    const share = outliers / values.length
    if (share < TOLD) return []
    if (left.every(Number.isNaN))
      return [
        `${channelTitle(channel)}: its sensor tells nothing, one value throughout; it is left out. Is it connected?`,
      ]
    return [
      `${channelTitle(channel)}: ${plain(100 * share, 1)} % of the readings cannot be, or jump as nothing does; they count as empty. Look at the wiring of that signal.`,
    ]
  })
}

/** Flat at the base up to one bin, straight to the top at another, flat from there. */
export interface Rise {
  from: number
  to: number
  base: number
  top: number
}

/**
 * The rise under which values by bin are most likely whose errors hang together from bin to bin: generalized least squares
 * over all beginnings and ends, each value less what the one before it foretells of its error.
 *
 * @param along correlation of the errors of neighbouring bins, 0 (plain least squares) to less than 1
 * @see Aitken (1935) for least squares of errors that hang together
 */
export function fitRise(values: readonly number[], along: number): Rise {
  const n = values.length
  const rest = 1 - along
  // Sums of what is new in each bin, and of that times the bin; all of the first is new.
  const sums = [0]
  const moments = [0]
  values.forEach((value, k) => {
    const fresh = k === 0 ? 0 : value - along * values[k - 1]!
    sums.push(sums[k]! + fresh)
    moments.push(moments[k]! + k * fresh)
  })
  const flat = 1 - along ** 2 + (n - 1) * rest ** 2
  const ofFlat = (1 - along ** 2) * values[0]! + rest * sums[n]!
  let best: Rise & { gained: number } = { from: 0, to: 1, base: 0, top: 0, gained: -Infinity }
  for (let from = 0; from < n - 1; from++)
    for (let to = from + 1; to < n; to++) {
      // The line's shape is 0 to `from`, 1 from `to` on.
      const width = to - from
      const after = n - 1 - to
      const steps = (width * (width + 1)) / 2
      const rising = (rest * steps) / width + along
      const squares = ((rest ** 2 * (2 * width + 1)) / 3 + 2 * rest * along) * (steps / width ** 2) + along ** 2 / width
      const inside = sums[to + 1]! - sums[from + 1]!
      const moment = moments[to + 1]! - moments[from + 1]! - from * inside
      const both = rest * (rising + rest * after)
      const ofRise = (rest * moment + along * inside) / width + rest * (sums[n]! - sums[to + 1]!)
      const spread = squares + rest ** 2 * after - both ** 2 / flat
      const slope = (ofRise - (both * ofFlat) / flat) / spread
      const gained = slope * slope * spread
      if (slope > 0 && gained > best.gained) {
        const base = (ofFlat - slope * both) / flat
        best = { from, to, base, top: base + slope, gained }
      }
    }
  const { gained: _gained, ...rise } = best
  return rise
}

/** A rise as values by bin. */
export function riseLine({ from, to, base, top }: Rise, count: number): number[] {
  return Array.from(
    { length: count },
    (_, k) => base + (top - base) * Math.min(1, Math.max(0, (k - from) / (to - from))),
  )
}

/** Beyond this, base and top would tell nothing. */
const MOST_ALONG = 0.75

/** How errors of neighbouring bins hang together, by what each run departs from its side beyond a level of its own; 0 where none tells. */
export function alongBins(departures: readonly (readonly number[])[]): number {
  let [own, next] = [0, 0]
  for (const run of departures) {
    const level = run.reduce((sum, one) => sum + one, 0) / run.length
    for (let k = 1; k < run.length; k++) {
      const [before, here] = [run[k - 1]! - level, run[k]! - level]
      own += (before ** 2 + here ** 2) / 2
      next += before * here
    }
  }
  return own > 0 ? Math.min(MOST_ALONG, Math.max(0, next / own)) : 0
}

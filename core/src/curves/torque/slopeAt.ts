import { firstFrom } from '../../run/firstFrom'

/** Readings that a slope, or a bin, rests on at least. */
export const LEAST_ROWS = 3

/** Straight line through some readings about a row: its slope per second, and its level there. */
export function slopeAt(
  time: Float32Array,
  values: Float32Array,
  row: number,
  around: number,
  first: number,
  last: number,
): { slope: number; level: number; error: number } | null {
  let [n, st, sv, stt, stv, svv] = [0, 0, 0, 0, 0, 0]
  const near = values[row]! === values[row]! ? values[row]! : 0
  const at = time[row]!
  for (let i = Math.max(first, firstFrom(time, at - around)); i < last && time[i]! <= at + around; i++) {
    const value = values[i]! - near
    if (value !== value) continue
    const t = time[i]! - at
    n++
    st += t
    sv += value
    stt += t * t
    stv += t * value
    svv += value * value
  }
  const spread = n * stt - st * st
  // At the ends of a pull a window is cut: half of it must be there.
  if (n < LEAST_ROWS || !(spread > 1e-9) || time[row]! - time[first]! < around / 2) return null
  const slope = (n * stv - st * sv) / spread
  const left = Math.max(0, svv - (sv * sv) / n - (slope * slope * spread) / n)
  return {
    slope,
    level: near + (sv - slope * st) / n,
    error: n > 2 ? Math.sqrt(left / (n - 2) / (spread / n)) : 0,
  }
}

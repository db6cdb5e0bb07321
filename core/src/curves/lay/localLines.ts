import type { CurveRuler } from './ruler'

/** Readings a bin needs, so that it is more than one moment. */
const LEAST = 3

/** Slices of rpm a bin is cut into before lines are fitted: readings this near each other weigh alike. */
const SLICES = 8

/** Sums over thin slices of rpm, so that lines are fitted to slices and not to every reading anew. */
function sumBySlice(
  rpm: Float32Array,
  values: Float32Array,
  counts: Uint8Array,
  start: number,
  width: number,
  most: number,
): { n: Uint32Array; x: Float64Array; y: Float64Array; yy: Float64Array } {
  const size = Math.ceil(most) + 1
  const n = new Uint32Array(size)
  const x = new Float64Array(size)
  const y = new Float64Array(size)
  const yy = new Float64Array(size)
  for (let i = 0; i < rpm.length; i++) {
    if (counts[i] === 0) continue
    const value = values[i]!
    const k = (rpm[i]! - start) / width
    if (value !== value || !(k >= 0 && k < size)) continue
    const slice = k | 0
    n[slice]!++
    x[slice]! += rpm[i]!
    y[slice]! += value
    yy[slice]! += value * value
  }
  return { n, x, y, yy }
}

/** Local straight lines, read off at the bins, with the scatter of readings about them. */
export function localLines(
  rpm: Float32Array,
  values: Float32Array,
  counts: Uint8Array,
  ruler: CurveRuler,
  reach: number,
): { value: Float32Array; scatter: Float32Array } {
  const { first, step, count } = ruler
  const s0 = new Float64Array(count)
  const s1 = new Float64Array(count)
  const s2 = new Float64Array(count)
  const t0 = new Float64Array(count)
  const t1 = new Float64Array(count)
  const q0 = new Float64Array(count)
  const seen = new Uint32Array(count)
  const low = new Float64Array(count).fill(Infinity)
  const high = new Float64Array(count).fill(-Infinity)
  const width = Math.max(reach, step)
  const slices = sumBySlice(
    rpm,
    values,
    counts,
    first - width,
    step / SLICES,
    count * SLICES + (2 * width * SLICES) / step,
  )
  for (let k = 0; k < slices.n.length; k++) {
    const n = slices.n[k]!
    if (n === 0) continue
    const x = slices.x[k]! / n
    const y = slices.y[k]!
    const from = Math.max(0, Math.ceil((x - width - first) / step))
    const to = Math.min(count - 1, Math.floor((x + width - first) / step))
    for (let b = from; b <= to; b++) {
      const d = (x - first - b * step) / width
      const w = 1 - (d < 0 ? -d : d)
      s0[b]! += w * n
      s1[b]! += w * d * n
      s2[b]! += w * d * d * n
      t0[b]! += w * y
      t1[b]! += w * d * y
      q0[b]! += w * slices.yy[k]!
      seen[b]! += n
      if (d < low[b]!) low[b] = d
      if (d > high[b]!) high[b] = d
    }
  }
  const value = new Float32Array(count).fill(NaN)
  const scatter = new Float32Array(count).fill(NaN)
  const near = (0.5 * step) / width
  for (let b = 0; b < count; b++) {
    // Readings to both sides, or right at the middle: a line is not drawn out beyond them.
    if (seen[b]! < LEAST || low[b]! > near || high[b]! < -near) continue
    const determinant = s0[b]! * s2[b]! - s1[b]! ** 2
    const flat = determinant < 1e-6 * s0[b]! ** 2
    const slope = flat ? 0 : (s0[b]! * t1[b]! - s1[b]! * t0[b]!) / determinant
    const level = (t0[b]! - slope * s1[b]!) / s0[b]!
    value[b] = level
    const rest = q0[b]! - level * t0[b]! - slope * t1[b]!
    scatter[b] = Math.sqrt(Math.max(0, rest / s0[b]!))
  }
  return { value, scatter }
}

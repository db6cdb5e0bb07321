import type { RunColumns } from '../run/run'

/** What a run of a test does at a moment: s, and what is read then. */
interface Moment {
  rpm: number
  throttle: number
  lambda: number
  torque?: number
  gear?: number
}

/** A run made by hand for a test: so many seconds at 50 Hz of what a function says. */
export function testRun(seconds: number, at: (t: number) => Moment, id = 'handed'): RunColumns {
  const moments = Array.from({ length: Math.round(seconds * 50) + 1 }, (_, k) => at(k / 50))
  const column = (of: (one: Moment) => number): Float32Array => Float32Array.from(moments, of)
  const [first] = moments
  return {
    id,
    time: Float32Array.from(moments, (_, k) => k / 50),
    rpm: column((one) => one.rpm),
    throttle: column((one) => one.throttle),
    lambda: [column((one) => one.lambda)],
    ...(first!.torque !== undefined && { torque: column((one) => one.torque!) }),
    ...(first!.gear !== undefined && { gear: column((one) => one.gear!) }),
  }
}

/** A value that goes from one to another over a span of time. */
export function ramp(t: number, from: number, until: number, before: number, after: number): number {
  return before + (after - before) * Math.min(1, Math.max(0, (t - from) / (until - from)))
}

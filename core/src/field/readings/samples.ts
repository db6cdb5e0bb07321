import { screenRun, type ScreenOptions } from '../../run/screen'
import type { RunColumns, SetAside } from '../../run/run'

/** Screened readings of several runs, one after the other, each with the run it came from. */
export interface Samples {
  count: number
  time: Float32Array
  rpm: Float32Array
  load: Float32Array
  /** index of the run */
  run: Uint16Array
  /** lambda by cylinder; NaN where a run has fewer cylinders */
  lambda: Float32Array[]
  /** N·m, or what goes with it; NaN where a run has none; null when no run has any */
  torque: Float32Array | null
  /** factor of the closed loop's trims at work, 1 for none; null when no run has trims */
  trim: Float32Array | null
  /** 1 where a tailpipe tube saw little flow; null when no run was read by one */
  doubtful: Uint8Array | null
  /** by run, in the order given */
  setAside: SetAside[]
  /** by run: whether it has what the load axis needs */
  usable: boolean[]
}

/** rpm x share of full load under which air finds its way back up a tailpipe to a tube's end (common practice: low flow reads lean). */
const LITTLE_FLOW = 1500

function isLittleFlow(rpm: number, load: number): boolean {
  return rpm * Math.min(1, load / 100) < LITTLE_FLOW
}

/** Screens and joins runs. */
export function gatherSamples(runs: readonly RunColumns[], options: ScreenOptions): Samples {
  const screened = runs.map((run) => screenRun(run, options))
  const count = screened.reduce((sum, one) => sum + (one?.count ?? 0), 0)
  const cylinders = Math.max(1, ...runs.map((run) => run.lambda.length))
  const samples: Samples = {
    count,
    time: new Float32Array(count),
    rpm: new Float32Array(count),
    load: new Float32Array(count),
    run: new Uint16Array(count),
    lambda: Array.from({ length: cylinders }, () => new Float32Array(count).fill(NaN)),
    torque: screened.some((one) => one?.torque) ? new Float32Array(count).fill(NaN) : null,
    trim: screened.some((one) => one?.trim) ? new Float32Array(count).fill(1) : null,
    doubtful: runs.some((run) => run.sensorPlace === 'tailpipe') ? new Uint8Array(count) : null,
    setAside: screened.map((one) => one?.setAside ?? {}),
    usable: screened.map((one) => one !== null),
  }
  let at = 0
  screened.forEach((one, index) => {
    if (!one) return
    samples.time.set(one.time, at)
    samples.rpm.set(one.rpm, at)
    samples.load.set(one.load, at)
    samples.run.fill(index, at, at + one.count)
    one.lambda.forEach((column, cylinder) => samples.lambda[cylinder]!.set(column, at))
    if (one.torque) samples.torque!.set(one.torque, at)
    if (one.trim) samples.trim!.set(one.trim, at)
    if (runs[index]!.sensorPlace === 'tailpipe')
      for (let i = 0; i < one.count; i++) samples.doubtful![at + i] = isLittleFlow(one.rpm[i]!, one.load[i]!) ? 1 : 0
    at += one.count
  })
  return samples
}

/** The samples for which `keep` is 1, in their order. */
export function keepSamples(samples: Samples, keep: Uint8Array): Samples {
  const kept = new Uint32Array(keep.length)
  let count = 0
  for (let i = 0; i < keep.length; i++) if (keep[i]) kept[count++] = i
  const pick = <T extends Float32Array | Uint16Array | Uint8Array>(from: T, to: T): T => {
    for (let at = 0; at < count; at++) to[at] = from[kept[at]!]!
    return to
  }
  return {
    ...samples,
    count,
    time: pick(samples.time, new Float32Array(count)),
    rpm: pick(samples.rpm, new Float32Array(count)),
    load: pick(samples.load, new Float32Array(count)),
    run: pick(samples.run, new Uint16Array(count)),
    lambda: samples.lambda.map((column) => pick(column, new Float32Array(count))),
    torque: samples.torque && pick(samples.torque, new Float32Array(count)),
    trim: samples.trim && pick(samples.trim, new Float32Array(count)),
    doubtful: samples.doubtful && pick(samples.doubtful, new Uint8Array(count)),
  }
}

/** Every n-th sample, so that at most `most` are left. */
export function thinSamples(samples: Samples, most: number | null): Samples {
  if (most === null || samples.count <= most) return samples
  const stride = Math.ceil(samples.count / most)
  const keep = new Uint8Array(samples.count)
  for (let i = 0; i < keep.length; i += stride) keep[i] = 1
  return keepSamples(samples, keep)
}

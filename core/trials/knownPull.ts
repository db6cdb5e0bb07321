import type { RunColumns } from '../src/run/run'
import { normal, random } from './knownTruthLog'

/** A full-throttle pull whose torque and mixture are known, made without the simulated engine; for tests only. */
export interface KnownPull {
  seed: number
  torque: (rpm: number) => number
  lambda: (rpm: number) => number
  /** standard deviation of the whole run against its repeats, share */
  between: number
  /** of a single reading of torque, share */
  noise: number
  from: number
  to: number
  seconds: number
  hz: number
  coolant: number
  /** % of plate it was held at */
  plate: number
  /** a local error of torque and mixture, share, in a band of rpm */
  odd: { from: number; to: number; torque: number; lambda: number } | null
}

/** Torque of a sound engine, N·m: a broad hump. */
export function humpTorque(rpm: number): number {
  return 42 * Math.exp(-(((rpm - 6800) / 5200) ** 2))
}

export function knownPull(over: Partial<KnownPull>): KnownPull {
  return {
    seed: 1,
    torque: humpTorque,
    lambda: () => 0.88,
    between: 0.004,
    noise: 0.012,
    from: 2500,
    to: 9500,
    seconds: 9,
    hz: 50,
    coolant: 86,
    plate: 100,
    odd: null,
    ...over,
  }
}

/** Records the pull: half a second shut, then open, then shut. */
export function recordPull(pull: KnownPull, id = `pull ${pull.seed}`): RunColumns {
  const next = random(pull.seed * 7919)
  for (let i = 0; i < 8; i++) next()
  const level = 1 + pull.between * normal(next)
  // Repeats also differ in shape, slowly over rpm: heat, brake, wind.
  const phase = 6.28 * next()
  const bend = 0.5 * pull.between * normal(next)
  const rows: number[][] = []
  const total = pull.seconds + 1.2
  for (let i = 0; i <= total * pull.hz; i++) {
    const t = i / pull.hz
    const share = Math.min(1, Math.max(0, (t - 0.5) / pull.seconds))
    const open = t >= 0.5 && t <= 0.5 + pull.seconds
    const rpm =
      pull.from + (pull.to - pull.from) * share - (t > 0.5 + pull.seconds ? 1500 * (t - 0.5 - pull.seconds) : 0)
    const { odd } = pull
    const inOdd = odd && rpm >= odd.from && rpm <= odd.to
    const torque = pull.torque(rpm) * level * (1 + bend * Math.sin(rpm / 1100 + phase)) * (1 + (inOdd ? odd.torque : 0))
    const mixture = pull.lambda(rpm) * (1 + (inOdd ? odd.lambda * (0.4 + 1.2 * next()) : 0))
    rows.push([
      t,
      rpm + 6 * normal(next),
      open ? pull.plate : 1,
      mixture * (1 + 0.006 * normal(next)),
      open ? torque * (1 + pull.noise * normal(next)) : -4,
      pull.coolant + 0.2 * normal(next),
    ])
  }
  const column = (k: number): Float32Array => new Float32Array(rows.map((row) => row[k]!))
  return {
    id,
    time: column(0),
    rpm: column(1),
    throttle: column(2),
    lambda: [column(3)],
    torque: column(4),
    coolant: column(5),
  }
}

/** A pull as a plain CSV log with torque. */
export function pullAsCsv(run: RunColumns): string {
  const lines = ['time (s),rpm,throttle (%),lambda,torque (N·m),coolant (°C)']
  for (let i = 0; i < run.time.length; i++)
    lines.push(
      [
        run.time[i]!.toFixed(3),
        run.rpm[i]!.toFixed(0),
        run.throttle![i]!.toFixed(1),
        run.lambda[0]![i]!.toFixed(4),
        run.torque![i]!.toFixed(2),
        run.coolant![i]!.toFixed(1),
      ].join(','),
    )
  return `${lines.join('\n')}\n`
}

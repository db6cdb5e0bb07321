import type { RunColumns } from '../src/run/run'

/**
 * Logs as a machine in a shed gives them, with a truth that is known: each file begins at idle, runs up, holds an opening from
 * low to high speed and rolls down again. Written for tests only; it shares nothing with the estimator, the simulated rig or
 * the other generators.
 */
export interface Shed {
  seed: number
  /** Hz, no whole part of any other rate here */
  hz: number
  /** ln of what is needed at speed and opening, before anything was added */
  need: (rpm: number, opening: number) => number
  wanted: (opening: number) => number
  /** ln of fuel that was added since */
  added: (rpm: number, opening: number) => number
  /** opening up to which a loop holds lambda 1, and how it swings (fraction) */
  loop: { most: number; toRpm: number; swing: number } | null
  /** mg per second that a fading pump gives at the most, in units where wide open at 9,000 rpm needs 1 */
  pump: number | null
  idleRpm: number
  /** % of plate before a sweep; it is rolled out at 1.4 */
  idlePlate?: number
  /** N·m that a brake shows while the plate is open; none is logged without */
  torque?: (rpm: number, opening: number) => number
}

export const SHED: Shed = {
  seed: 7,
  hz: 33,
  need: (rpm, opening) => 0.02 * Math.cos(rpm / 1370) + 0.0004 * opening,
  wanted: (opening) => (opening < 24 ? 0.965 : opening > 76 ? 0.885 : 0.965 - (0.08 * (opening - 24)) / 52),
  added: () => 0,
  loop: null,
  pump: null,
  idleRpm: 1240,
}

/** A congruential generator of its own (Park and Miller 1988), and a normal number by twelve of its. */
function chance(seed: number): () => number {
  let state = (seed * 48271 + 11) % 2147483647
  const uniform = (): number => (state = (state * 48271) % 2147483647) / 2147483647
  return () => Array.from({ length: 12 }, uniform).reduce((sum, one) => sum + one, -6)
}

/** One file: at an opening, % of plate, from low to high speed in so many seconds. */
function shedRide(shed: Shed, opening: number, number: number, toRpm = 8700, seconds = 14): RunColumns {
  const next = chance(shed.seed * 131 + number * 17 + opening)
  const columns: Record<'time' | 'rpm' | 'throttle' | 'lambda' | 'torque', number[]> = {
    torque: [],
    time: [],
    rpm: [],
    throttle: [],
    lambda: [],
  }
  const dt = 1 / shed.hz
  const idlePlate = shed.idlePlate ?? 1.4
  let shown = 1
  let swing = 0
  const parts = [6, 2, seconds, 1, 5]
  const [idle, up, sweep, shut] = parts as [number, number, number, number, number]
  const whole = parts.reduce((sum, one) => sum + one, 0)
  for (let t = 0; t < whole; t += dt) {
    const at = t - idle - up
    const begin = 2600
    const isSwept = at >= 0 && at < sweep
    const rpm =
      t < idle
        ? shed.idleRpm + 35 * Math.sin(1.7 * t)
        : at < 0
          ? shed.idleRpm + ((begin - shed.idleRpm) * (t - idle)) / up
          : isSwept
            ? begin + (toRpm - begin) * (at / sweep) ** 1.15
            : toRpm - ((toRpm - 2400) * (at - sweep)) / (whole - idle - up - sweep)
    const plate =
      t < idle
        ? idlePlate
        : at < 0
          ? idlePlate + ((opening - idlePlate) * (t - idle)) / up
          : isSwept
            ? opening
            : at < sweep + shut
              ? opening * Math.max(0.02, 1 - (at - sweep) / 0.3)
              : 1.4
    const isCut = at >= sweep && plate < 3 && rpm > 2300
    const { loop, pump } = shed
    swing = 0.93 * swing + 0.37 * next() * (loop?.swing ?? 0)
    const isHeld = loop !== null && plate <= loop.most && rpm <= loop.toRpm
    let ln = Math.log(shed.wanted(plate)) + shed.need(rpm, plate) - shed.added(rpm, plate)
    // A pump that is spent gives what it gives, whatever is asked of it.
    const asked = (rpm / 9000) * (0.15 + (0.85 * plate) / 100)
    if (pump !== null && asked > pump)
      ln = Math.log(shed.wanted(plate)) + shed.need(rpm, plate) + Math.log(asked / pump)
    const lambda = isCut ? 1.9 : isHeld ? 1 + swing : Math.exp(ln)
    shown += (lambda - shown) * (1 - Math.exp(-dt / 0.09))
    columns.time.push(t)
    columns.torque.push((isCut ? -4 : (shed.torque?.(rpm, plate) ?? 0)) + 0.2 * next())
    columns.rpm.push(rpm + 9 * next())
    columns.throttle.push(Math.max(0, plate + 0.08 * next()))
    columns.lambda.push(shown * (1 + 0.006 * next()))
  }
  return {
    id: `shed ${opening} ${number}`,
    time: Float32Array.from(columns.time),
    rpm: Float32Array.from(columns.rpm),
    throttle: Float32Array.from(columns.throttle),
    lambda: [Float32Array.from(columns.lambda)],
    ...(shed.torque && { torque: Float32Array.from(columns.torque) }),
  }
}

/** Files at some openings, each so many times. */
export function shedRides(shed: Shed, openings: readonly number[], repeats = 3, first = 1): RunColumns[] {
  return openings.flatMap((opening, k) =>
    Array.from({ length: repeats }, (_, n) => shedRide(shed, opening, first + 10 * k + n)),
  )
}

/** A file as its logger writes it. */
export function shedCsv({ time, rpm, throttle, lambda, torque }: RunColumns): string {
  const columns = [time, rpm, throttle!, lambda[0]!, ...(torque ? [torque] : [])]
  const head = `Time (s),Engine Speed (rpm),Throttle (%),Lambda${torque ? ',Torque (Nm)' : ''}`
  return [head, ...Array.from(time, (_, i) => columns.map((one) => one[i]!.toFixed(4)).join())].join('\n')
}

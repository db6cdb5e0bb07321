import { interpolate } from '../src/table/lookup'
import type { LoadGrid, Matrix } from '../src/table/table'
import type { RunColumns } from '../src/run/run'

/**
 * Logs whose truth is known, made without the simulated engine: a rig sweeps at fixed throttle stops, each run ended by
 * shutting the throttle. Written for tests only and shares nothing with the estimator but table look-up.
 */
export interface KnownCase {
  seed: number
  /** s */
  delay: number
  /** what of it falls with flow: s x rpm x % */
  perFlow: number
  timeConstant: number
  /** standard deviation of a reading, fraction of lambda, and s over which such errors hang together in a sweep */
  noise: number
  noiseTime: number
  stops: number[]
  repeats: number
  hz: number
  /** end stop of the sensor, lambda */
  endStop: number
  /** run that misfires: by stop and repeat, with its band and how much leaner it reads */
  misfire: { stop: number; repeat: number; from: number; to: number; lean: number } | null
  /** cylinders silent in every run of a stop: band, share of the torque that is gone, how much leaner it reads; torque is logged then */
  silent: { stop: number; from: number; to: number; share: number; lean: number } | null
  held: { mostLoad: number; from: number; to: number }[]
  /** swing of a closed loop about lambda 1, fraction */
  hunt: number
  /** s that the hand takes to shut the plate, and s from shut until fuel is cut */
  closing: number
  cutAfter: number
  /** peak of the lean spike at tip-in, fraction */
  tipIn: number
  /** sweep from and to, rpm; odd repeats may come down instead */
  sweep: { from: number; to: number; seconds: number; downEvery: number }
  grid: LoadGrid
  target: Matrix
  /** ln(lambda / target) at rpm and load */
  truth: (rpm: number, load: number) => number
}

const STOPS = [5, 10, 20, 30, 40, 60, 80, 100]

export const GRID: LoadGrid = {
  loadAxis: 'throttle',
  rpm: Array.from({ length: 18 }, (_, i) => 1500 + i * 500),
  load: [0, 2, 5, 10, 20, 30, 40, 60, 80, 100],
}

/** A truth with slopes, a lean hole and a rich shelf, of the size seen after an exhaust change; percent at the most about 14. */
function bumpyTruth(rpm: number, load: number): number {
  const hole = 0.11 * Math.exp(-(((rpm - 5200) / 1100) ** 2)) * (0.4 + load / 170)
  const shelf = -0.05 / (1 + Math.exp(-(rpm - 7800) / 450))
  const ripple = 0.02 * Math.sin(rpm / 900 + load / 40)
  return 0.03 + hole + shelf + ripple - 0.0003 * load
}

export function knownCase(seed: number, over: Partial<KnownCase> = {}): KnownCase {
  const grid = over.grid ?? GRID
  return {
    seed,
    delay: 0.2,
    perFlow: 0,
    timeConstant: 0.06,
    noise: 0.012,
    noiseTime: 0,
    stops: STOPS,
    repeats: 3,
    hz: 50,
    endStop: 1.55,
    misfire: { stop: 60, repeat: 1, from: 5500, to: 7300, lean: 0.09 },
    silent: null,
    held: [{ mostLoad: 12, from: 2600, to: 4400 }],
    hunt: 0.006,
    closing: 0.08,
    cutAfter: 0,
    tipIn: 0.18,
    sweep: { from: 1900, to: 9800, seconds: 9, downEvery: 0 },
    grid,
    target: grid.load.map((load) => grid.rpm.map(() => (load < 40 ? 0.93 : 0.885))),
    truth: bumpyTruth,
    ...over,
  }
}

/** Small fast generator (mulberry32), so that each case is the same everywhere. */
export function random(seed: number): () => number {
  let state = seed >>> 0
  return () => {
    state = (state + 0x6d2b79f5) >>> 0
    let t = Math.imul(state ^ (state >>> 15), 1 | state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
}

export function normal(next: () => number): number {
  return Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next())
}

/** All runs of a case; ids tell stop and repeat. */
export function knownRuns(c: KnownCase): RunColumns[] {
  const next = random(c.seed)
  return c.stops.flatMap((stop) => Array.from({ length: c.repeats }, (_, repeat) => oneRun(c, stop, repeat, next)))
}

/** Some rows of a run: plate, speed and mixture, as a file would have them that begins late or ends early. */
export function someRows(run: RunColumns, from: number, to = run.time.length): RunColumns {
  const cut = (column: Float32Array): Float32Array => column.slice(from, to)
  return {
    id: run.id,
    time: cut(run.time),
    rpm: cut(run.rpm),
    throttle: cut(run.throttle!),
    lambda: run.lambda.map(cut),
  }
}

function oneRun(c: KnownCase, stop: number, repeat: number, next: () => number): RunColumns {
  const inner = 250
  const dt = 1 / inner
  const down = c.sweep.downEvery > 0 && repeat % c.sweep.downEvery === c.sweep.downEvery - 1
  const seconds = c.sweep.seconds * (0.9 + 0.2 * next()) * (stop < 15 ? 1.2 : 1)
  const lead = 1.2
  const tail = 1.6
  const total = lead + seconds + tail
  const steps = Math.round(total * inner)
  const offset = 0.003 * normal(next)
  const loopPhase = 6.28 * next()
  const queue: number[] = []
  const pipe: [leavesAt: number, lambda: number][] = []
  let flowed = 0
  const rows: [number, number, number, number, number, number][] = []
  // Drawn only where it is used, so that other cases stay what they were.
  const level = c.silent ? 1 + 0.006 * normal(next) : 1
  const start = down ? c.sweep.to : c.sweep.from
  const end = down ? c.sweep.from : c.sweep.to
  let sensor = 1
  const wander = normal(next)
  const lasting = c.noiseTime > 0 ? Math.exp(-1 / c.hz / c.noiseTime) : 0
  let error = 0
  for (let i = 0; i <= steps; i++) {
    const t = i * dt
    const closedBefore = Math.max(0, Math.min(1, (t - lead) / 0.08))
    const closedAfter = Math.max(0, Math.min(1, (lead + seconds - t) / c.closing + 1))
    const throttle = 1 + (stop - 1) * Math.min(closedBefore, closedAfter)
    const swept = Math.max(0, Math.min(1, (t - lead - 0.15) / (seconds - 0.15)))
    const rpm =
      t < lead + seconds ? start + (end - start) * swept : end - Math.min(end - 1500, 1800 * (t - lead - seconds))
    const load = c.grid.loadAxis === 'manifold' ? manifoldAt(rpm, throttle) : Math.min(throttle, 100)
    let lambda = interpolate(c.grid, c.target, rpm, load) * Math.exp(c.truth(rpm, load) + offset)
    const held = c.held.find((zone) => throttle <= zone.mostLoad && throttle > 3 && rpm >= zone.from && rpm <= zone.to)
    if (held) lambda = 1 + c.hunt * Math.sin(2 * Math.PI * 1.3 * t + loopPhase)
    if (t > lead) lambda *= 1 + c.tipIn * Math.exp(-(t - lead) / 0.22) * Math.min(1, (t - lead) / 0.05)
    if (
      c.misfire &&
      c.misfire.stop === stop &&
      c.misfire.repeat === repeat &&
      rpm >= c.misfire.from &&
      rpm <= c.misfire.to &&
      t < lead + seconds
    ) {
      lambda *= 1 + c.misfire.lean * (0.7 + 0.6 * next())
    }
    const isSilent = c.silent?.stop === stop && rpm >= c.silent.from && rpm <= c.silent.to
    if (isSilent) lambda *= 1 + c.silent!.lean * (1 + 2 * normal(next))
    if (t > lead + seconds + c.closing + c.cutAfter && rpm > 1700) lambda = 3
    if (c.perFlow > 0) {
      // What was drawn in leaves the pipe once as much has followed it, and reaches the sensor a fixed time later.
      flowed += rpm * throttle * dt
      pipe.push([flowed + c.perFlow, lambda])
      while (pipe.length > 1 && pipe[1]![0] <= flowed) pipe.shift()
      queue.push(pipe[0]![1])
    } else queue.push(lambda)
    const delayed = queue.length > c.delay * inner ? queue.shift()! : queue[0]!
    sensor +=
      (Math.min(delayed, c.endStop * 1.3) - sensor) * (c.timeConstant > 0 ? 1 - Math.exp(-dt / c.timeConstant) : 1)
    if (i % Math.round(inner / c.hz) === 0) {
      error = lasting * error + Math.sqrt(1 - lasting ** 2) * normal(next)
      const reading = Math.max(0.65, Math.min(c.endStop, sensor * (1 + c.noise * error)))
      rows.push([
        t,
        rpm + 8 * normal(next) + 3 * wander,
        Math.max(0, throttle + 0.15 * normal(next)),
        reading,
        manifoldAt(rpm, throttle) + 0.4 * normal(next),
        c.silent
          ? level * torqueAt(rpm, throttle) * (isSilent ? 1 - c.silent.share : 1) * (1 + 0.015 * normal(next))
          : 0,
      ])
    }
  }
  const column = (k: 0 | 1 | 2 | 3 | 4 | 5): Float32Array => new Float32Array(rows.map((row) => row[k]))
  return {
    id: `stop ${stop} repeat ${repeat + 1}`,
    time: column(0),
    rpm: column(1),
    throttle: column(2),
    lambda: [column(3)],
    ...(c.silent && { torque: column(5) }),
    ...(c.grid.loadAxis === 'manifold' && { manifold: column(4) }),
  }
}

/** N·m of a sound engine. */
function torqueAt(rpm: number, throttle: number): number {
  return 44 * Math.exp(-(((rpm - 6600) / 5000) ** 2)) * (1 - Math.exp(-throttle / (6 + rpm / 500)))
}

/** kPa behind the plate: near the air outside when it is open or the engine slow, never quite there. */
export function manifoldAt(rpm: number, throttle: number): number {
  return 24 + 73 * (1 - Math.exp(-(throttle / 16) * (5000 / Math.max(1000, rpm)) ** 0.9))
}

/** A ride on the road: the hand wanders between holds, rpm follows the plate; `minutes` long. */
export function knownRoad(c: KnownCase, minutes: number): RunColumns {
  const next = random(c.seed + 7919)
  const dt = 1 / 100
  const rows: number[][] = []
  const queue: number[] = []
  let [throttle, wanted, rpm, hold, sensor] = [12, 12, 3000, 2, 1]
  for (let i = 0; i * dt < 60 * minutes; i++) {
    const t = i * dt
    hold -= dt
    if (hold <= 0) {
      const kind = next()
      wanted = kind < 0.1 ? 1 : kind < 0.25 ? 60 + 40 * next() : 6 + 54 * next() ** 1.5
      hold = wanted < 2 ? 1 + 2 * next() : 2 + 8 * next()
    }
    throttle += Math.sign(wanted - throttle) * Math.min(Math.abs(wanted - throttle), 140 * dt)
    const settles = 2200 + 6800 * (1 - Math.exp(-throttle / 30))
    rpm += dt * (throttle < 3 ? -700 : 0.22 * (settles - rpm) + 60 * normal(next))
    if (rpm > 9300 || (throttle > 40 && rpm > 8800 && next() < 0.01)) hold = 0
    if (rpm > 9500) wanted = 5
    rpm = Math.min(9800, Math.max(1600, rpm))
    const load = c.grid.loadAxis === 'manifold' ? manifoldAt(rpm, throttle) : throttle
    let lambda = interpolate(c.grid, c.target, rpm, load) * Math.exp(c.truth(rpm, load))
    const held = c.held.some((zone) => throttle <= zone.mostLoad && throttle > 3 && rpm >= zone.from && rpm <= zone.to)
    if (held) lambda = 1 + c.hunt * Math.sin(2 * Math.PI * 1.3 * t)
    if (throttle < 1.5 && rpm > 1700) lambda = 3
    queue.push(lambda)
    const delayed = queue.length > c.delay / dt ? queue.shift()! : queue[0]!
    sensor += (Math.min(delayed, c.endStop * 1.3) - sensor) * (1 - Math.exp(-dt / c.timeConstant))
    if (i % Math.round(1 / dt / c.hz) === 0)
      rows.push([
        t,
        rpm + 8 * normal(next),
        Math.max(0, throttle + 0.15 * normal(next)),
        Math.max(0.65, Math.min(c.endStop, sensor * (1 + c.noise * normal(next)))),
        manifoldAt(rpm, throttle) + 0.4 * normal(next),
      ])
  }
  const column = (k: number): Float32Array => new Float32Array(rows.map((row) => row[k]!))
  return {
    id: `road ${c.seed}`,
    time: column(0),
    rpm: column(1),
    throttle: column(2),
    lambda: [column(3)],
    ...(c.grid.loadAxis === 'manifold' && { manifold: column(4) }),
  }
}

/** A run as a plain CSV log. */
export function asCsv(run: RunColumns, header = 'time (s),rpm,throttle (%),lambda'): string {
  const lines = [header]
  for (let i = 0; i < run.time.length; i++) {
    lines.push(
      `${run.time[i]!.toFixed(3)},${run.rpm[i]!.toFixed(0)},${run.throttle![i]!.toFixed(1)},${run.lambda[0]![i]!.toFixed(3)}`,
    )
  }
  return `${lines.join('\n')}\n`
}

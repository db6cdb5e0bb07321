import { median } from '../numbers/median'
import { alignChannels } from './alignChannels'
import { readChannelAs, type ReadAs } from './readAs'
import { DEFAULT_FILTERS } from './run'
import { screenRun } from './screen'
import { type Weather } from '../air/weather'
import type { RunKind } from './runKind'
import { isAtStop, stopOf } from './stopOf'
import { withoutOutliers } from './outliers'
import { handStops } from './byRound'
import { columnWithout } from './leftOutByTime'
import type { Rows } from './pulls'
import type { RunInfo } from './runInfo'
import { partsOfRide, sweepsOfLog } from './sweepsOfLog'

/** What a run is, as far as its columns tell: by this the run plan is ticked off. */
export interface RunFacts {
  /** throttle in % at which it was made; null without a throttle column */
  stop: number | null
  /** span of engine speed at that throttle */
  fromRpm: number
  toRpm: number
  /** s spent at that throttle */
  seconds: number
  /** gear in the gear column; null without one */
  gear: number | null
  /** engine turns per turn of the drum, which tells gears apart; null without a drum */
  ratio: number | null
  /** mean of what the log says of the air; null unless it tells temperature and pressure */
  weather: Weather | null
  coolantFrom: number | null
  coolantTo: number | null
  /** settled, valid readings of the mixture among its first rows; null (or absent in facts told long ago) where that cannot be told */
  settled?: number | null
  /** span of engine speed of those readings */
  settledFromRpm?: number | null
  settledToRpm?: number | null
  /** mean advance at that throttle, degrees; null (or absent in facts told long ago) without a spark channel */
  spark?: number | null
  /** riding modes of its mode column; absent without one */
  modes?: number[]
  /** the sweeps inside it, where there are two or more; absent in facts told long ago */
  sweeps?: SweepFacts[]
  /** openings at which readings by hand were taken over several speeds, a round each; absent for other kinds */
  rounds?: SweepFacts[]
}

/** What one of several sweeps in a run is, or a hold or a roll-on among a ride. */
interface SweepFacts extends Pick<
  RunFacts,
  'stop' | 'fromRpm' | 'toRpm' | 'seconds' | 'settled' | 'settledFromRpm' | 'settledToRpm'
> {
  /** what it is where it is no sweep */
  kind?: 'hold' | 'roll-on' | undefined
}

/** The same of what a comparison takes: readings by hand count by rounds at an opening. */
export function comparedOfRun(kind: RunKind, facts: RunFacts): { kind: RunKind; facts: RunFacts }[] {
  const { rounds } = facts
  return rounds?.length
    ? rounds.map((one) => ({ kind: 'sweep', facts: { ...facts, ...one } }))
    : sweepsOfRun(kind, facts)
}

/** Facts of a run by its sweeps, each as if it were a run of its own; the run's own where it is one. */
export function sweepsOfRun(kind: RunKind, facts: RunFacts): { kind: RunKind; facts: RunFacts }[] {
  const { sweeps } = facts
  if (!sweeps?.length) return [{ kind, facts }]
  return sweeps.map(({ kind: part = 'sweep', ...one }) => ({ kind: part as RunKind, facts: { ...facts, ...one } }))
}

const MOST = 10_000

/** What somebody said of the parts of a run. */
type Told = Partial<Pick<RunInfo, 'without' | 'stretches'>>

/** Channels that facts are told from. */
export const FACT_CHANNELS = [
  'time',
  'rpm',
  'throttle',
  'lambda1',
  'gear',
  'drum',
  'coolant',
  'ambient',
  'barometer',
  'humidity',
  'spark',
  'mode',
] as const
/** Columns by channel name, as far as they are there. */
export type FactColumns = Partial<Record<(typeof FACT_CHANNELS)[number], Float32Array>>

/**
 * Facts of a run from its columns. For roll-ons the stop is the opening reached.
 *
 * @param logged time and rpm are needed, all of one length
 */
export const runFacts = (logged: FactColumns, kind: RunKind, told: Told = {}): RunFacts =>
  factsOfClean(alignChannels(withoutOutliers(logged)), kind, told)

/** The same of columns that were cleaned and aligned already. */
export function factsOfClean(logged: FactColumns, kind: RunKind, told: Told = {}): RunFacts {
  const columns = readingsOf(logged, told)
  return {
    ...factsOf(columns, kind),
    sweeps: partsIn(columns, kind, told),
    ...(kind === 'hand readings' && { rounds: roundsIn(columns) }),
  }
}

/**
 * Facts of a run from its columns as they are read.
 *
 * @param column gives a channel as it was stored; null for one that is not there
 */
export function factsAsRead(
  readAs: ReadAs | null | undefined,
  column: (channel: string) => Float32Array | null,
  kind: RunKind,
  told: Told = {},
): RunFacts {
  const columns = FACT_CHANNELS.flatMap((channel) => {
    const values = readChannelAs(readAs, channel, column)
    return values ? [[channel, values] as const] : []
  })
  return runFacts(Object.fromEntries(columns), kind, told)
}

/** Kinds of run that may hold several sweeps. */
const MAY_HOLD: readonly RunKind[] = ['sweep', 'road']

function roundsIn({ rpm, throttle }: FactColumns): SweepFacts[] {
  if (!rpm) return []
  return handStops({ rpm, ...(throttle && { throttle }) }).flatMap(({ stop, rounds }) =>
    rounds.map((rows) => ({
      stop,
      fromRpm: rpm[rows[0]!]!,
      toRpm: rpm[rows.at(-1)!]!,
      seconds: 0,
      ...UNKNOWN,
    })),
  )
}

/** Most parts of a ride that are told. */
const MOST_PARTS = 500

/** Sweeps inside a log, as somebody made them or as they are found; of a ride also its holds and roll-ons. */
function partsIn(columns: FactColumns, kind: RunKind, { without, stretches }: Told): SweepFacts[] {
  const { time, rpm, throttle } = columns
  if (!MAY_HOLD.includes(kind) || !time || !rpm) return []
  const log = { time, rpm, throttle, without, stretches, isRide: kind === 'road' }
  const swept = sweepsOfLog(log)
  if (swept.length) return swept.map((rows) => partFacts(columns, rows, 'sweep'))
  return partsOfRide(log)
    .slice(0, MOST_PARTS)
    .map((one) => partFacts(columns, one.rows, one.kind))
}

function partFacts(columns: FactColumns, { from, to }: Rows, kind: 'sweep' | 'hold' | 'roll-on'): SweepFacts {
  const own = Object.entries(columns).map(([channel, column]) => [channel, column.subarray(from, to)])
  const { stop, fromRpm, toRpm, seconds, settled, settledFromRpm, settledToRpm } = factsOf(
    Object.fromEntries(own) as FactColumns,
    kind,
  )
  const told = { stop, fromRpm, toRpm, seconds, settled, settledFromRpm, settledToRpm }
  return kind === 'sweep' ? told : { ...told, kind }
}

/** Columns without the mixture of what was left out by time. */
function readingsOf(columns: FactColumns, { without }: Told): FactColumns {
  const { time, lambda1 } = columns
  return time && lambda1 ? { ...columns, lambda1: columnWithout(lambda1, time, without) } : columns
}

function factsOf(columns: FactColumns, kind: RunKind): RunFacts {
  const { time, rpm, throttle, gear, drum, coolant } = columns
  const n = rpm!.length
  const stride = Math.max(1, Math.ceil(n / MOST))
  const rows = Array.from({ length: Math.floor((n - 1) / stride) + 1 }, (_, k) => k * stride)
  const stop = throttle && kind !== 'hand readings' && kind !== 'road' ? stopOf(rows.map((i) => throttle[i]!)) : null
  const there = rows.filter((i) => rpm![i]! > 0 && (stop === null || isAtStop(throttle![i]!, stop)))
  const speeds = there.map((i) => rpm![i]!).sort((a, b) => a - b)
  const share = (part: number): number => speeds[Math.floor(part * (speeds.length - 1))] ?? 0
  const step = rows.length > 1 ? (time![rows.at(-1)!]! - time![0]!) / (rows.length - 1) : 0
  const ratios = drum ? there.flatMap((i) => (drum[i]! > 1 ? [rpm![i]! / drum[i]!] : [])) : []
  const gears = gear ? there.map((i) => gear[i]!).filter((value) => value > 0) : []
  const warm = coolant ? rows.map((i) => coolant[i]!).filter((value) => value === value) : []
  return {
    stop: stop === null ? null : Math.round(10 * stop) / 10,
    fromRpm: Math.round(share(0.01)),
    toRpm: Math.round(share(0.99)),
    seconds: Math.round(10 * there.length * step) / 10,
    gear: gears.length ? Math.round(median(gears)) : null,
    ratio: ratios.length ? Math.round(1000 * median(ratios)) / 1000 : null,
    weather: loggedWeather(columns, rows),
    coolantFrom: warm.length ? Math.round(warm[0]!) : null,
    coolantTo: warm.length ? Math.round(warm.at(-1)!) : null,
    ...settledIn(columns, kind),
    spark: columns.spark ? meanOver(columns.spark, there) : null,
    ...(columns.mode && { modes: modesOf(columns.mode, rows) }),
  }
}

/** Riding modes that a run was made in, rising. */
function modesOf(mode: Float32Array, rows: readonly number[]): number[] {
  const seen = new Set(rows.map((i) => Math.round(mode[i]!)).filter((one) => one === one))
  return [...seen].sort((a, b) => a - b)
}

type Settled = Pick<RunFacts, 'settled' | 'settledFromRpm' | 'settledToRpm'>
const UNKNOWN: Settled = { settled: null, settledFromRpm: null, settledToRpm: null }

/** Readings of the mixture that a field would use, by the usual filters and without a lag. */
function settledIn({ time, rpm, throttle, lambda1, coolant }: FactColumns, kind: RunKind): Settled {
  if (!throttle || !lambda1 || kind === 'hand readings') return UNKNOWN
  const run = { id: '', time: time!, rpm: rpm!, throttle, lambda: [lambda1], ...(coolant && { coolant }) }
  const screened = screenRun(run, { loadAxis: 'throttle', lag: 0, filters: DEFAULT_FILTERS })
  if (!screened) return UNKNOWN
  const speeds = screened.rpm.slice().sort()
  const share = (part: number): number | null =>
    speeds.length ? Math.round(speeds[Math.floor(part * (speeds.length - 1))]!) : null
  return { settled: screened.count, settledFromRpm: share(0.01), settledToRpm: share(0.99) }
}

/** Humidity alone may be missing: half way is then closer than leaving the vapour out (at 20 °C within 1.2 % of the dry air). */
const USUAL_HUMIDITY = 50

/** Mean over some rows, to a tenth; null when nothing was read there. */
function meanOver(column: Float32Array, rows: readonly number[]): number | null {
  const known = rows.map((i) => column[i]!).filter((value) => value === value)
  return known.length ? Math.round((10 * known.reduce((sum, value) => sum + value, 0)) / known.length) / 10 : null
}

function loggedWeather({ ambient, barometer, humidity }: FactColumns, rows: readonly number[]): Weather | null {
  const mean = (column: Float32Array | undefined): number => {
    const known = column ? rows.map((i) => column[i]!).filter((value) => value === value) : []
    return known.reduce((sum, value) => sum + value, 0) / known.length
  }
  const [temperatureC, pressureKpa, humidityPct] = [mean(ambient), mean(barometer), mean(humidity)]
  if (Number.isNaN(temperatureC) || Number.isNaN(pressureKpa)) return null
  const tenth = (value: number): number => Math.round(10 * value) / 10
  return {
    temperatureC: tenth(temperatureC),
    pressureKpa: Math.round(100 * pressureKpa) / 100,
    humidityPct: Number.isNaN(humidityPct) ? USUAL_HUMIDITY : tenth(humidityPct),
  }
}

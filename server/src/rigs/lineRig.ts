import {
  liveLines,
  neutralWays,
  refused,
  RESTING,
  type LiveReading,
  type Mapping,
  type RigControls,
  type RigSample,
} from '@yuzumix/core'
import type { Clock } from './clock'
import { lineSource, type LineAddress } from './lineSource'
import type { RigLink } from './rigLink'

export interface LineChoice {
  name: string
  /** as somebody typed it */
  source: string
  address: LineAddress
  clock: Clock
  redline: number
  gaugeScale: number
  mapped(signature: string, headers: readonly string[]): Mapping | undefined
}

/** ms without a line, and s of lag, after which it is told. */
const [SILENT, LAGS] = [2000, 1]
const READS_ONLY =
  'This link only reads: it sets nothing at the machine. Set it there, or connect a rig that can be driven.'
const onlyReads = (): never => {
  throw refused('bench', READS_ONLY, 'link')
}
const LAMBDAS = ['lambda1', 'lambda2', 'lambda3', 'lambda4']

/** A machine whose readings come as lines of text, over a network or a serial port: it is read, and never set. */
export function lineRig({ name, source, address, clock, redline, gaugeScale, mapped }: LineChoice): RigLink {
  const hearers = new Set<(sample: RigSample) => void>()
  const lines = liveLines({ mapped, gaugeScale })
  const began = clock.now()
  let trouble = 'Not open yet.'
  let heardAt = began
  let isOpen = false
  const close = lineSource(address, clock, {
    line(text) {
      heardAt = clock.now()
      for (const reading of lines.read(text, (heardAt - began) / 1000)) {
        const sample = sampleOf(reading, lambdasIn(lines))
        for (const hear of hearers) hear(sample)
      }
    },
    state(open, why) {
      isOpen = open
      heardAt = clock.now()
      trouble = open ? '' : `No link: ${why}. It is tried again every second.`
    },
  })
  const told = (): string => {
    if (!isOpen) return trouble
    const silent = clock.now() - heardAt
    if (silent > SILENT) return `Silent for ${Math.round(silent / 1000)} s: the link is open, and no line comes.`
    if (!lines.columns())
      return lines.strange()
        ? 'Lines come, and no header among them: have it sent anew, or switch the sender off and on.'
        : 'Open; waiting for the header.'
    if (lines.behind() > LAGS) return `Lags: readings come ${lines.behind().toFixed(1)} s late.`
    return ''
  }
  return {
    name,
    readsOnly: true,
    lines: () => ({
      source,
      baud: 'baud' in address ? address.baud : null,
      columns: [...(lines.columns() ?? [])],
      said: told(),
      strange: lines.strange(),
    }),
    get cylinders() {
      return Math.max(1, lambdasIn(lines).length)
    },
    redline,
    weather: () => null,
    listen(hear) {
      hearers.add(hear)
      return () => void hearers.delete(hear)
    },
    set(controls: Partial<RigControls>) {
      // What comes to rest is at rest already.
      const isRest = Object.entries(controls).every(
        ([key, value]) => JSON.stringify(value) === JSON.stringify(RESTING[key as keyof RigControls]),
      )
      if (!isRest) onlyReads()
    },
    controls: () => RESTING,
    state: () => ({ readable: true, unkept: [], changed: false }),
    sensors: () => ({
      calibration: { closedVolts: null, openVolts: null, freeAirPct: null },
      throttleVolts: 0,
      freeAirPct: null,
    }),
    calibrate: async () => onlyReads(),
    tables: () => Promise.resolve([]),
    firstTables: () => Promise.resolve([]),
    write: async () => onlyReads(),
    ways: () => Promise.resolve(neutralWays()),
    firstWays: () => Promise.resolve(neutralWays()),
    writeWay: async () => onlyReads(),
    keep: async () => onlyReads(),
    restore: async () => onlyReads(),
    recover: async () => onlyReads(),
    powerCycle: async () => onlyReads(),
    close,
  }
}

const lambdasIn = (lines: ReturnType<typeof liveLines>): string[] =>
  LAMBDAS.filter((channel) => lines.columns()?.some((one) => one.channel === channel))

/** A reading as every rig gives it; what the lines do not tell is no number. */
function sampleOf({ time, values }: LiveReading, lambdas: readonly string[]): RigSample {
  const of = (channel: string): number => values[channel] ?? NaN
  const known = (channel: 'manifold' | 'commanded' | 'grip' | 'mode'): Partial<RigSample> =>
    channel in values ? { [channel]: of(channel) } : {}
  return {
    time,
    rpm: of('rpm'),
    throttle: of('throttle'),
    lambda: lambdas.map(of),
    torque: of('torque'),
    drum: of('drum'),
    coolant: of('coolant'),
    intake: of('intake'),
    battery: of('battery'),
    knock: of('knock'),
    trimShort: of('trimShort'),
    spark: of('spark'),
    ...known('manifold'),
    ...known('commanded'),
    ...known('grip'),
    ...known('mode'),
    others: Object.fromEntries(Object.entries(values).filter(([channel]) => !OWN.has(channel))),
  }
}
/** Channels that a reading has members of its own for. */
const OWN = new Set([
  ...['time', 'rpm', 'throttle', 'torque', 'drum', 'coolant', 'intake', 'battery', 'knock', 'trimShort', 'spark'],
  ...['commanded', 'grip', 'mode', ...LAMBDAS],
])

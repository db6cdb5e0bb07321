import {
  DEFAULT_LIVE,
  liveRig,
  rigOf,
  SIMULATED_MACHINES,
  type NewComplaint,
  type NewJob,
  type NewSet,
  type Rig,
  type RunScript,
} from '@yuzumix/core'
import { kindOfScript, nameOfScript } from '../core/src/rig/runScript'
import { runScript } from '../core/src/simulator/runScript'
import type { LoggedRun } from './log'

/** A job about the answer to the hand: a machine that takes hold like a switch, run on the drum with grip and plate logged. */
export interface ResponseStory {
  job: NewJob
  set: NewSet
  runs: { name: string; kind: NonNullable<ReturnType<typeof kindOfScript>>; columns: LoggedRun }[]
  rig: Rig
  complaints: NewComplaint[]
}

const GEAR = 4
const STOPS = [1, 2, 4, 7, 11, 16, 22, 30, 45, 65, 100]
const STARTS = [2500, 4000, 5500]
const OPENINGS = [15, 40]
/** Stops at which the plate of the other mode is looked at. */
const OTHER_STOPS = [2, 4, 7, 11, 16, 22, 30, 45, 65, 100]

export function responseStory(): ResponseStory {
  const rig = rigOf(SIMULATED_MACHINES.find((one) => one.id === 'dunnock-498-snatchy')!)
  const live = liveRig(rig, { ...DEFAULT_LIVE, coolant: 86 }, 63)
  const scripts: RunScript[] = [
    ...STOPS.map((stop) => ({ kind: 'sweep', stop, fromRpm: 2000, toRpm: 9000, rate: 600, gear: GEAR }) as const),
    ...STARTS.flatMap((fromRpm) =>
      OPENINGS.flatMap((stop) =>
        [1, 2, 3].map(() => ({ kind: 'roll-on', fromRpm, fromStop: 2, stop, seconds: 2.6, gear: GEAR }) as const),
      ),
    ),
    ...[1, 2, 3].map(
      () => ({ kind: 'overrun', fromRpm: 5000, stop: 12, shutSeconds: 1, seconds: 2, gear: GEAR }) as const,
    ),
  ]
  const logged = (script: RunScript, id: string, name: string): ResponseStory['runs'][number] => ({
    name,
    kind: kindOfScript(script)!,
    columns: runScript(live, script, id) as LoggedRun,
  })
  const first = scripts.map((script, k) =>
    logged(script, String(k), `${nameOfScript(script)}${script.kind === 'sweep' ? '' : `, ${k}`}`),
  )
  live.controls.mode = 1
  const other = OTHER_STOPS.map((stop) =>
    logged(
      { kind: 'sweep', stop, fromRpm: 2000, toRpm: 9000, rate: 900, gear: GEAR },
      `mode 2, ${stop}`,
      `Sweep at ${stop} % of grip, mode 2`,
    ),
  )
  return {
    job: {
      title: 'Dunnock 498, takes hold like a switch',
      machine: { name: 'Dunnock 498 twin', cylinders: 2, displacementCc: 498, strokes: 4 },
      fuel: { id: 'e5' },
      gaugeScale: 14.7,
      use: 'road',
      fitted: 'Nothing. Plates moved by a motor, two riding modes. Somebody had been at the fuel before.',
      complaint: 'Snatches when the throttle is opened out of a bend; uneven about 4,400 rpm in town.',
    },
    set: {
      name: 'As it came in',
      setup: 'Everything stock',
      calibration: 'unknown',
      rig: 'Saltmarsh drum',
      gear: GEAR,
      sensorPlace: 'header',
      weather: { temperatureC: 21, pressureKpa: 100.6, humidityPct: 55 },
    },
    runs: [...first, ...other],
    rig,
    complaints: [
      {
        word: 'snatchy',
        text: 'out of a bend, second gear',
        fromRpm: 3500,
        toRpm: 5000,
        fromThrottle: 0,
        toThrottle: 15,
      },
      { word: 'hunts', text: 'in town', fromRpm: 4200, toRpm: 4700, fromThrottle: 3, toThrottle: 12 },
    ],
  }
}

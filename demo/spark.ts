import {
  DEFAULT_LIVE,
  DEFAULT_SPARK_SETTINGS,
  liveRig,
  rigOf,
  safeOffsets,
  SIMULATED_MACHINES,
  type LiveRig,
  type NewJob,
  type NewSet,
  type Rig,
  type RunColumns,
  type RunKind,
  type RunScript,
  type SparkSetting,
} from '@yuzumix/core'
import { runScript } from '../core/src/simulator/runScript'
import { nameOfScript } from '../core/src/rig/runScript'

/** A job whose runs were made at several settings of the spark. */
export interface SparkStory {
  job: NewJob
  sets: { set: NewSet; runs: SparkDemoRun[] }[]
  rig: Rig
  /** whether the machine's controller has tables to be changed */
  hasTables: boolean
}
interface SparkDemoRun {
  name: string
  kind: RunKind
  columns: RunColumns & Required<Pick<RunColumns, 'throttle' | 'torque' | 'coolant'>>
  setting: SparkSetting | null
}

const RIG = { rig: 'Saltmarsh drum', gear: 4, sensorPlace: 'header' as const }
const MILD = { temperatureC: 21, pressureKpa: 100.6, humidityPct: 55 }
const GEAR = 4
const rigOfId = (id: string): Rig => rigOf(SIMULATED_MACHINES.find((one) => one.id === id)!)

function run(live: LiveRig, script: RunScript, name: string, setting: SparkSetting | null = null): SparkDemoRun {
  const whole = runScript(live, script, name) as SparkDemoRun['columns']
  const { spark: _spark, knock: _knock, ...blind } = whole
  // An ignition plate set by hand: nobody logs the advance, and knock is heard or not.
  return { name, kind: script.kind as RunKind, columns: setting ? blind : whole, setting }
}

/** A controller whose factory map is held back in the middle, stepped at held points; and how torque answers to the mixture. */
function steppedStory(): SparkStory {
  const rig = rigOfId('curlew-437-stock')
  const live = liveRig(rig, { ...DEFAULT_LIVE, coolant: 84 }, 61)
  const plan = { ...DEFAULT_SPARK_SETTINGS.plan, stops: [40, 100], rpm: [3500, 5000, 6500] }
  const points = plan.stops.flatMap((stop) => plan.rpm.map((rpm) => ({ stop, rpm })))
  const steps = points.flatMap((at) =>
    Array.from({ length: plan.repeats }, (_, repeat) => {
      const script = {
        kind: 'spark step',
        ...at,
        offsets: safeOffsets(plan),
        seconds: plan.seconds,
        gear: GEAR,
      } as const
      return run(live, script, `${nameOfScript(script)}, run ${repeat + 1}`)
    }),
  )
  const mixture = [1, 2].map((k) => {
    const script = {
      kind: 'mixture step',
      stop: 100,
      rpm: 5500,
      offsets: [0, 12, 8, 4, -3, -6, 0],
      seconds: 5,
      gear: GEAR,
    } as const
    return run(live, script, `${nameOfScript(script)}, run ${k}`)
  })
  return {
    job: {
      title: 'Curlew 437, spark held back',
      machine: { name: 'Curlew 437 single', cylinders: 1, displacementCc: 437, strokes: 4 },
      fuel: { id: 'e5' },
      gaugeScale: 14.7,
      use: 'road',
      fitted:
        'Everything stock. The factory held the spark back between 3,400 and 6,000 rpm, so that it is quiet when driven past.',
      complaint: 'Feels lazy in the middle; the mixture is right.',
      spark: { ...DEFAULT_SPARK_SETTINGS, plan },
    },
    sets: [
      {
        set: { name: 'Spark steps', setup: 'Stock', calibration: 'stock', ...RIG, weather: MILD },
        runs: [...steps, ...mixture],
      },
    ],
    rig,
    hasTables: true,
  }
}

/** An ignition plate turned in its slots, swept at one mark after the other; and other springs of its advance weights, which show no difference. */
function plateStory(): SparkStory {
  const rig = rigOfId('dunlin-208-stock')
  const live = liveRig(rig, { ...DEFAULT_LIVE, coolant: 86 }, 62)
  const mark = 11
  const swept = (advance: number, name: string): SparkDemoRun =>
    run(
      live,
      { kind: 'sweep', stop: 60, fromRpm: 2500, toRpm: 8500, rate: 600, gear: GEAR, sparkOffset: advance - mark },
      name,
      { advance, knock: false },
    )
  const order = [11, 7, 9, 13, 15, 11, 7, 9, 13, 15, 11]
  return {
    job: {
      title: 'Dunlin 208, plate and springs',
      machine: { name: 'Dunlin 208 single', cylinders: 1, displacementCc: 208, strokes: 4 },
      fuel: { id: 'e5' },
      gaugeScale: 14.7,
      use: 'road',
      fitted:
        'Nothing. The ignition plate turns in its slots; a set of softer springs for the advance weights was made to try.',
      complaint: 'Where should the plate stand, and do the softer springs do anything?',
      spark: {
        ...DEFAULT_SPARK_SETTINGS,
        plan: { ...DEFAULT_SPARK_SETTINGS.plan, way: 'sweeps', stops: [60], rpm: [2500, 8500], step: 2 },
      },
    },
    sets: [
      {
        set: {
          name: 'Softer springs',
          setup: 'Softer springs of the advance weights, plate at 11°',
          calibration: 'none',
          ...RIG,
          weather: MILD,
        },
        runs: [1, 2, 3].map((k) => swept(11, `Softer springs, plate at 11°, run ${k}`)),
      },
      {
        set: {
          name: 'Own springs',
          setup: 'Own springs of the advance weights',
          calibration: 'none',
          ...RIG,
          weather: MILD,
        },
        runs: order.map((advance, k) => swept(advance, `Plate at ${advance}°, sweep ${k + 1}`)),
      },
    ],
    rig,
    hasTables: false,
  }
}

export const sparkStories = (): SparkStory[] => [plateStory(), steppedStory()]

import {
  AVOCET_312,
  CURLEW_437,
  GODWIT_712,
  OPEN_LID,
  OPEN_SILENCER,
  rigFor,
  STOCK_BREATHING,
  type NewJob,
  type NewSet,
  type Rig,
  type SweepScript,
} from '@yuzumix/core'

/**
 * The demo's story, invented from end to end: the Saltmarsh workshop has machines in, all named after wading birds.
 * Numbers are made by running the simulated rig, not typed.
 */
export interface DemoJob {
  job: NewJob
  sets: DemoSet[]
  /** how the log is written, so that the demo also shows that logs differ */
  format: 'plain' | 'afr with semicolons'
  /** table that the machine came with; none where nothing is to be changed */
  table: 'fuel base' | 'fuel trim' | null
  reason: string
  /** handled from taking in to handing over */
  isTold?: boolean
}

/** Runs in one state of the machine. */
interface DemoSet {
  set: NewSet
  rig: Rig
  sweeps: (SweepScript & { name: string })[]
  /** points at which a gauge was read by hand, rpm and % */
  hand?: { rpm: number; plate: number }[]
}

const STOPS = [5, 10, 20, 30, 40, 60, 80, 100]
const REPEATS = 3

/** The workshop's drum, and the air on the day. */
const DRUM = { rig: 'Saltmarsh drum', gear: 4, sensorPlace: 'header' as const }
const MILD = { temperatureC: 21, pressureKpa: 100.6, humidityPct: 55 }
const COOL = { temperatureC: 13, pressureKpa: 101.4, humidityPct: 70 }
const inAir = (rig: Rig, { temperatureC, pressureKpa }: typeof MILD): Rig => ({
  ...rig,
  weather: { temperatureC, pressureKpa },
})

interface SweepChoice {
  repeats?: number
  odd?: { stop: number; repeat: number; misfire: NonNullable<SweepScript['misfire']> }
  trims?: boolean
}

function sweepsAt(
  stops: readonly number[],
  fromRpm: number,
  toRpm: number,
  choice: SweepChoice = {},
): DemoSet['sweeps'] {
  const { repeats = REPEATS, odd, trims } = choice
  return stops.flatMap((stop) =>
    Array.from({ length: repeats }, (_, repeat) => ({
      name: `Sweep at ${stop} %, run ${repeat + 1}`,
      stop,
      fromRpm,
      toRpm: stop <= 5 ? Math.min(toRpm, 7000) : stop <= 10 ? Math.min(toRpm, 8200) : toRpm,
      seconds: stop <= 10 ? 10 : 8.5,
      drift: (repeat - 1) * 0.002,
      ...(trims && { trims }),
      ...(odd && odd.stop === stop && odd.repeat === repeat ? { misfire: odd.misfire } : {}),
    })),
  )
}

const curlew = rigFor(CURLEW_437, STOCK_BREATHING)
const CURLEW_LOOP = { loop: [{ fromRpm: 2300, toRpm: 4200, mostPlate: 12 }] }
const WARM_UP = { name: 'Warming up, wide open', stop: 100, fromRpm: 1900, toRpm: 9800, seconds: 8.5, coolant: 52 }

export const DEMO_JOBS: readonly DemoJob[] = [
  {
    job: {
      title: 'Curlew 437, stock machines',
      machine: { name: 'Curlew 437 single', cylinders: 1, displacementCc: 437, strokes: 4 },
      fuel: { id: 'e5' },
      gaugeScale: 14.7,
      use: 'road',
      fitted: 'Three machines as they left the factory, run for a reference to compare others with.',
    },
    sets: [1.008, 0.996, 0.985].map((filling, k) => ({
      set: {
        name: `Stock machine ${k + 1}`,
        setup: 'As it left the factory',
        calibration: 'stock',
        ...DRUM,
        weather: MILD,
      },
      rig: inAir({ ...curlew, engine: { ...CURLEW_437, spread: [{ low: filling, high: filling }] } }, MILD),
      sweeps: sweepsAt([100], 1900, 9800, { repeats: 3 }),
    })),
    format: 'plain',
    table: null,
    reason: '',
  },
  {
    job: {
      title: 'Avocet 312, snatchy in town',
      machine: { name: 'Avocet 312 single', cylinders: 1, displacementCc: 312, strokes: 4 },
      fuel: { id: 'e10' },
      gaugeScale: 14.7,
      use: 'road',
      fitted: 'Short open silencer. The controller logs its closed-loop trim.',
      complaint: 'Snatchy between 2,500 and 4,500 rpm at small throttle, better when cold.',
    },
    sets: [
      {
        set: { name: 'As it came in', setup: 'Short open silencer', calibration: 'stock', ...DRUM, weather: COOL },
        rig: inAir(rigFor(AVOCET_312, OPEN_SILENCER, { loop: [{ fromRpm: 2300, toRpm: 4800, mostPlate: 22 }] }), COOL),
        sweeps: sweepsAt([5, 10, 20, 40, 100], 1900, 9400, { trims: true }),
      },
    ],
    format: 'plain',
    table: 'fuel base',
    reason: 'As read from the controller',
  },
  {
    job: {
      title: 'Godwit 712, open filter lid',
      machine: { name: 'Godwit 712 twin', cylinders: 2, displacementCc: 712, strokes: 4 },
      fuel: { id: 'e5' },
      gaugeScale: 14.7,
      use: 'track',
      fitted: 'Open filter lid. Stock exhaust. Trim module between the controller and the injectors.',
      complaint: 'Flat above 8,000 rpm with the throttle wide open; the rear cylinder runs hotter.',
    },
    sets: [
      {
        set: {
          name: 'Open lid',
          setup: 'Open filter lid, stock exhaust',
          calibration: 'stock',
          ...DRUM,
          weather: MILD,
        },
        rig: rigFor(GODWIT_712, OPEN_LID),
        sweeps: sweepsAt([10, 20, 40, 60, 80, 100], 2000, 9400),
        hand: [3000, 4500, 6000].flatMap((rpm) => [20, 40].map((plate) => ({ rpm, plate }))),
      },
    ],
    format: 'afr with semicolons',
    table: 'fuel trim',
    reason: 'The module as it came: no trim',
  },
  {
    job: {
      title: 'Curlew 437, short silencer',
      machine: { name: 'Curlew 437 single', cylinders: 1, displacementCc: 437, strokes: 4 },
      fuel: { id: 'e5' },
      gaugeScale: 14.7,
      use: 'road',
      fitted: 'Short open silencer, baffle in. Stock filter and lid. Wideband in the header, close to the port.',
      workshop: 'The shed on Saltmarsh Lane',
      rider: 'Who rides the dike road to the ferry',
      identity: 'frame CW437-0031',
      complaint:
        'Hesitates around 5,500 rpm on part throttle, and feels flat at the top since the silencer was fitted.',
    },
    sets: [
      {
        set: { name: 'Before, stock silencer', setup: 'Stock silencer', calibration: 'stock', ...DRUM, weather: COOL },
        rig: inAir(rigFor(CURLEW_437, STOCK_BREATHING, CURLEW_LOOP), COOL),
        sweeps: sweepsAt([10, 60, 100], 1900, 9800),
      },
      {
        set: {
          name: 'Short silencer',
          setup: 'Short open silencer, baffle in',
          calibration: 'stock',
          ...DRUM,
          weather: MILD,
        },
        rig: rigFor(CURLEW_437, OPEN_SILENCER, CURLEW_LOOP),
        sweeps: [
          WARM_UP,
          ...sweepsAt(STOPS, 1900, 9800, {
            odd: { stop: 60, repeat: 1, misfire: { fromRpm: 6200, toRpm: 7600, share: 0.25 } },
          }),
        ],
      },
    ],
    format: 'plain',
    table: 'fuel base',
    reason: 'As read from the controller',
    isTold: true,
  },
]

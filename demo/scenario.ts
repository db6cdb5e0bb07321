import {
  CURLEW_449,
  GODWIT_690,
  OPEN_LID,
  OPEN_SILENCER,
  rigFor,
  type NewJob,
  type Rig,
  type SweepScript,
} from '@yuzumix/core'

/**
 * The demo's story, invented from end to end: the Saltmarsh workshop has two machines in, both named after wading birds.
 * Numbers are made by running the simulated rig, not typed.
 */
export interface DemoJob {
  job: NewJob
  rig: Rig
  sweeps: (SweepScript & { name: string })[]
  /** how the log is written, so that the demo also shows that logs differ */
  format: 'plain' | 'afr with semicolons'
  table: 'fuel base' | 'fuel trim'
  reason: string
}

const STOPS = [5, 10, 20, 30, 40, 60, 80, 100]
const REPEATS = 3

function sweepsAt(
  stops: readonly number[],
  fromRpm: number,
  toRpm: number,
  odd: { stop: number; repeat: number; misfire: NonNullable<SweepScript['misfire']> } | null,
): DemoJob['sweeps'] {
  return stops.flatMap((stop) =>
    Array.from({ length: REPEATS }, (_, repeat) => ({
      name: `Sweep at ${stop} %, run ${repeat + 1}`,
      stop,
      fromRpm,
      toRpm: stop <= 5 ? Math.min(toRpm, 7000) : stop <= 10 ? Math.min(toRpm, 8200) : toRpm,
      seconds: stop <= 10 ? 10 : 8.5,
      drift: (repeat - 1) * 0.002,
      ...(odd && odd.stop === stop && odd.repeat === repeat ? { misfire: odd.misfire } : {}),
    })),
  )
}

export const DEMO_JOBS: readonly DemoJob[] = [
  {
    job: {
      title: 'Godwit 690, open filter lid',
      machine: { name: 'Godwit 690 twin', cylinders: 2, displacementCc: 690, strokes: 4 },
      fuel: { id: 'e5' },
      gaugeScale: 14.7,
      use: 'track',
      fitted: 'Open filter lid. Stock exhaust. Trim module between the controller and the injectors.',
      complaint: 'Flat above 8,000 rpm with the throttle wide open; the rear cylinder runs hotter.',
    },
    rig: rigFor(GODWIT_690, OPEN_LID),
    sweeps: sweepsAt([10, 20, 40, 60, 80, 100], 2000, 9400, null),
    format: 'afr with semicolons',
    table: 'fuel trim',
    reason: 'The module as it came: no trim',
  },
  {
    job: {
      title: 'Curlew 449, short silencer',
      machine: { name: 'Curlew 449 single', cylinders: 1, displacementCc: 449, strokes: 4 },
      fuel: { id: 'e5' },
      gaugeScale: 14.7,
      use: 'road',
      fitted: 'Short open silencer, baffle in. Stock filter and lid. Wideband in the header, close to the port.',
      complaint:
        'Hesitates around 5,500 rpm on part throttle, and feels flat at the top since the silencer was fitted.',
    },
    rig: rigFor(CURLEW_449, OPEN_SILENCER, { loop: [{ fromRpm: 2300, toRpm: 4200, mostPlate: 12 }] }),
    sweeps: sweepsAt(STOPS, 1900, 9800, { stop: 60, repeat: 1, misfire: { fromRpm: 6200, toRpm: 7600, share: 0.25 } }),
    format: 'plain',
    table: 'fuel base',
    reason: 'As read from the controller',
  },
]

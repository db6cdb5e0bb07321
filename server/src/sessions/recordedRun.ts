import {
  channelKind,
  isOther,
  type LiveColumn,
  foreignWarning,
  isCalibrated,
  UNCALIBRATED_WARNINGS,
  type RigSample,
  type RunInfo,
  type RunKind,
  type SafetyStop,
} from '@yuzumix/core'
import { newRun } from '../intake/newRun'
import type { RigLink } from '../rigs/rigLink'
import type { Inside } from './session'
import type { Store } from '../store/database'
import { revisionsHolding } from '../store/madeOn'
import { addRun, type NewRun } from '../store/runs'

/** What was heard from a rig since recording began. */
export interface Recording {
  samples: RigSample[]
  name: string
  kind: RunKind | undefined
}

const CHANNELS: [channel: string, unit: string, of: (sample: RigSample, start: number) => number][] = [
  ['time', 's', (sample, start) => sample.time - start],
  ['rpm', 'rpm', (sample) => sample.rpm],
  ['throttle', '%', (sample) => sample.throttle],
  ['torque', 'N·m', (sample) => sample.torque],
  ['drum', 'rpm', (sample) => sample.drum],
  ['spark', '°', (sample) => sample.spark],
  ['trimShort', '%', (sample) => sample.trimShort],
  ['coolant', '°C', (sample) => sample.coolant],
  ['intake', '°C', (sample) => sample.intake],
  ['battery', 'V', (sample) => sample.battery],
  ['knock', '', (sample) => sample.knock],
]

/** What a run's reader must know of the sensors it was made with. */
function warningsOf(link: RigLink): string[] {
  if (link.readsOnly) return []
  const { throttle, wideband } = isCalibrated(link.sensors().calibration)
  return [...(throttle ? [] : [UNCALIBRATED_WARNINGS.throttle]), ...(wideband ? [] : [UNCALIBRATED_WARNINGS.wideband])]
}

/** A recording as a run to store, marked where it was cut short. */
function recordedRun(
  { samples, name, kind = 'road' }: Recording,
  cut: SafetyStop | null,
  warnings: string[],
  named: readonly LiveColumn[] = [],
): NewRun {
  const start = samples[0]!.time
  const lambdas = samples[0]!.lambda.map((_, c): (typeof CHANNELS)[number] => [
    `lambda${c + 1}`,
    'λ',
    (sample) => sample.lambda[c]!,
  ])
  const hand: typeof CHANNELS =
    samples[0]!.grip === undefined
      ? []
      : [
          ['grip', '%', (sample) => sample.grip ?? NaN],
          ['mode', '', (sample) => (sample.mode ?? 0) + 1],
        ]
  const commanded: typeof CHANNELS =
    samples[0]!.commanded === undefined ? [] : [['commanded', 'λ', (sample) => sample.commanded ?? NaN]]
  const names = new Set(samples.flatMap((sample) => Object.keys(sample.others ?? {})))
  const others = [...names].map((channel): (typeof CHANNELS)[number] => [
    channel,
    channelKind(channel)?.unit ?? '',
    (sample) => sample.others?.[channel] ?? NaN,
  ])
  const headerOf = (channel: string): string | undefined => named.find((one) => one.channel === channel)?.header
  const columns = [...CHANNELS, ...hand, ...commanded, ...lambdas, ...others].map(([channel, unit, of]) => ({
    channel,
    unit,
    ...(isOther(channel) && { header: headerOf(channel) }),
    values: Float32Array.from(samples, (sample) => of(sample, start)),
  }))
  return newRun(columns, {
    name: cut ? `${name} (cut)` : name,
    kind,
    warnings: [...(cut ? [`Cut: ${cut.reason}, ${cut.text}.`] : []), ...warnings],
  })
}

/** What a recording's run is bound to, and is to be said of it: known when it begins. */
export interface Bound {
  /** revision by table; the newest of each where nobody can look into the controller */
  revisions: Record<string, number> | null
  warnings: string[]
  /** columns of a source of lines */
  named: LiveColumn[]
}

/** What a recording is bound to, by what the controller holds. */
export async function boundTo(store: Store, job: string, link: RigLink, inside: Inside | null): Promise<Bound> {
  // What is in a controller that nobody can look into is what was saved last, as with any log.
  if (link.readsOnly) return { revisions: null, warnings: [], named: link.lines?.().columns ?? [] }
  const { revisions, foreign } = await revisionsHolding(store, job, inside?.tables ?? [], inside?.ways ?? null)
  return { revisions, warnings: [...warningsOf(link), ...foreign.map(foreignWarning)], named: [] }
}

/** Stores a recording as a run of its job. */
export function storeRecorded(
  store: Store,
  job: string,
  record: Recording,
  { revisions, warnings, named }: Bound,
  cut: SafetyStop | null,
): Promise<RunInfo> {
  return addRun(store, job, { ...recordedRun(record, cut, warnings, named), ...(revisions && { revisions }) })
}

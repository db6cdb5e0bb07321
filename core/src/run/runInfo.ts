import type { RunFacts } from './facts'
import type { LeftOutSpan } from './leftOutByTime'
import type { Stretch } from './stretches'
import type { ReadAs } from './readAs'
import type { SENSOR_PLACES } from './run'
import type { RunKind } from './runKind'

/** What is known of one column of a run without reading it. */
export interface ChannelInfo {
  channel: string
  unit: string
  /** readings that are none are not counted */
  count: number
  min: number
  max: number
  /** of a column that is only kept, or whose meaning was guessed: as the file names it */
  header?: string | undefined
  /** what it is was told by its values alone */
  guessed?: boolean | undefined
}

/** What somebody left out of a run: a span of engine speed, or, with both ends null, the whole of it. */
export interface LeftOut {
  fromRpm: number | null
  toRpm: number | null
  reason: string
}

/** One recording, as everything is known of it beside its columns. */
export interface RunInfo {
  id: string
  job: string
  name: string
  kind: RunKind
  /** rows of its columns */
  samples: number
  /** s */
  duration: number
  warnings: string[]
  /** AFR that the gauge shows at lambda 1, where the log held AFR; null for lambda */
  gaugeScale: number | null
  leftOut: LeftOut | null
  /** parts that somebody left out by time, and why, s; a crop leaves out what lies around it */
  without: LeftOutSpan[] | null
  /** what its parts are, where somebody split, joined or named them; null as its columns show */
  stretches: (Stretch & { name: string })[] | null
  /** how its columns are read where what was logged is not what was; null as they are */
  readAs: ReadAs | null
  /** the one setting of the spark that all of it was made at, as somebody said it */
  setting: { advance: number; knock: boolean } | null
  /** revision by table that was in force while it was made, as far as that was told */
  revisions: Record<string, number>
  /** ISO 8601 */
  createdAt: string
  channels: ChannelInfo[]
  /** id of the set it is in, and where that set's sensor sat */
  set: string
  sensorPlace: (typeof SENSOR_PLACES)[number] | null
  /** null where its columns tell none */
  facts: RunFacts | null
  /** of a stretch: the run that it is a part of, and where, s; absent for a run */
  part?: { of: string; from: number; to: number } | undefined
}

import type { ReadAs } from '../run/readAs'
import type { LoadGrid } from '../table/table'

/** What is in doubt about readings that came in. */
export const DOUBTS = [
  'machine',
  'speed',
  'throttle',
  'probes exchanged',
  'probe copied',
  'probe drifts',
  'mixture',
  'torque',
  'coolant',
  'clock',
  'noise',
] as const
export type DoubtKind = (typeof DOUBTS)[number]

/** A finding about readings that no figure should stand on before it is cleared. */
export interface Doubt {
  kind: DoubtKind
  /** ids of the runs in doubt; none for the set as a whole */
  runs: string[]
  /** with its figures, and what to do */
  text: string
  /** how these runs may be read instead, where the data tell that; null where a look at the machine is needed */
  offer: { label: string; readAs: ReadAs } | null
}

/** What readings are held against. */
export interface Ground {
  /** of the engine, as far as somebody said */
  displacementCc: number | null
  cylinders: number | null
  strokes: number | null
  /** rpm that no run goes beyond */
  revCeiling: number | null
  /** of the fuel table; null without one */
  grid: LoadGrid | null
  /** °C below which an engine counts as cold */
  coolantLeast: number
  /** noise of one reading about the field, fraction; null where no field was made */
  noise: number | null
  /** names of runs by id */
  names: Readonly<Record<string, string>>
}

import { REFUSALS } from '../refusal/codes'
import type { LargeStep } from '../change/largeSteps'

/** What can hurt an engine, or who sits on it: each is refused or asked about at every door through which it could come. */
export const DANGERS = [
  'table values',
  'fuel step',
  'spark step',
  'plate step',
  'acceleration step',
  'target step',
  'lean target',
  'limit loosened',
  'offset',
  'cold and wide open',
  'above the ceiling',
  'made on a younger state',
  'state not told',
  'unproven start',
  'engine running',
  'open gate',
  'somebody else drives',
  'kept change',
] as const
export type DangerKind = (typeof DANGERS)[number]

/** Large steps of any kind of table. */
export const TABLE_STEPS: readonly DangerKind[] = [
  'fuel step',
  'spark step',
  'plate step',
  'acceleration step',
  'target step',
]

/** Something asked for that can hurt. */
export interface Danger {
  kind: DangerKind
  /** place in what was asked, as `limits.lean` */
  field: string
  /** what and why, whole sentences */
  text: string
  /** refused whatever is said of it; otherwise taken for a reason */
  never?: true
  /** what of it stands where, line by line */
  lines?: readonly { field: string; message: string }[]
  steps?: readonly LargeStep[]
  /** what else a script may want of it */
  more?: Readonly<Record<string, unknown>>
}

type Hyphened<S extends string> = S extends `${infer First} ${infer Rest}` ? `${First}-${Hyphened<Rest>}` : S

/** The code under which the gate refuses a danger. */
export const dangerCode = (kind: DangerKind): Hyphened<DangerKind> => kind.replaceAll(' ', '-') as Hyphened<DangerKind>

/** A danger in a few words, as a heading. */
export const dangerTitle = (kind: DangerKind): string => REFUSALS[dangerCode(kind)]

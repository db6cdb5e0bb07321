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
}

const TITLES: Record<DangerKind, string> = {
  'table values': 'Unusual values',
  'fuel step': 'A large step of fuel',
  'spark step': 'A large step of advance',
  'plate step': 'A plate that opens more',
  'acceleration step': 'A large step of acceleration fuel',
  'target step': 'A large step of the target',
  'lean target': 'A lean target under load',
  'limit loosened': 'A limit is loosened',
  offset: 'A large offset',
  'cold and wide open': 'The engine is cold',
  'above the ceiling': 'Above the rev ceiling',
  'made on a younger state': 'Made on a younger state',
  'state not told': 'Which state were they made on?',
  'unproven start': 'An unproven start',
  'engine running': 'The engine runs',
  'open gate': 'The rig list is open',
  'somebody else drives': 'Somebody else drives',
  'kept change': 'The controller was changed',
}

/** A danger in a few words, as a heading. */
export const dangerTitle = (kind: DangerKind): string => TITLES[kind]

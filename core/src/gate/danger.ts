import type { LargeStep } from '../change/largeSteps'
import type { DangerKind } from '../refusal/dangers'

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

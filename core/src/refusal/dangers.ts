import { REFUSALS } from './codes'

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

type Hyphened<S extends string> = S extends `${infer First} ${infer Rest}` ? `${First}-${Hyphened<Rest>}` : S

/** The code under which the gate refuses a danger. */
export const dangerCode = (kind: DangerKind): Hyphened<DangerKind> => kind.replaceAll(' ', '-') as Hyphened<DangerKind>

/** A danger in a few words, as a heading. */
export const dangerTitle = (kind: DangerKind): string => REFUSALS[dangerCode(kind)]

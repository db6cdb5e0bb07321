/** What a kind of table sets, in what unit, and how it is judged. */
interface KindOfTable {
  /** what its cells set or correct */
  sets: 'fuel' | 'spark' | 'target' | 'plate' | 'acceleration'
  /** unit of a cell; empty where it counts in any */
  unit: string
  /** limits of a cell, in that unit */
  least: number
  most: number
  /** decimals of a cell; null where they follow from its values */
  digits: number | null
  /** a large step of it, as the gate knows it, and what that is counted in */
  step: 'fuel step' | 'spark step' | 'target step' | 'plate step' | 'acceleration step'
  stepUnit: '%' | '°' | '% of plate'
  /** channels of which one must be there for a run to tell something of it */
  toldBy: readonly string[]
}

const MIXTURE = ['lambda1']
const TORQUE = ['torque', 'power', 'drum']
const spark = {
  sets: 'spark',
  unit: '°',
  least: -60,
  most: 70,
  digits: 1,
  step: 'spark step',
  stepUnit: '°',
  toldBy: TORQUE,
} as const

/** Every kind of table there is: one more is a line here, how its steps are measured, and where it is shown. */
const KINDS = {
  'fuel base': {
    sets: 'fuel',
    unit: '',
    least: 0,
    most: 100_000,
    digits: null,
    step: 'fuel step',
    stepUnit: '%',
    toldBy: MIXTURE,
  },
  'fuel trim': {
    sets: 'fuel',
    unit: '%',
    least: -95,
    most: 300,
    digits: 1,
    step: 'fuel step',
    stepUnit: '%',
    toldBy: MIXTURE,
  },
  // Share of its swept volume that a cylinder fills with air: the fuel is this over the lambda that is commanded.
  filling: {
    sets: 'fuel',
    unit: '%',
    least: 0,
    most: 300,
    digits: 1,
    step: 'fuel step',
    stepUnit: '%',
    toldBy: MIXTURE,
  },
  'spark base': spark,
  'spark trim': spark,
  'lambda target': {
    sets: 'target',
    unit: 'λ',
    least: 0.5,
    most: 1.6,
    digits: 3,
    step: 'target step',
    stepUnit: '%',
    toldBy: TORQUE,
  },
  plate: {
    sets: 'plate',
    unit: '%',
    least: 0,
    most: 100,
    digits: 1,
    step: 'plate step',
    stepUnit: '% of plate',
    toldBy: ['grip'],
  },
  'acceleration fuel': {
    sets: 'acceleration',
    unit: '%',
    least: 0,
    most: 200,
    digits: 1,
    step: 'acceleration step',
    stepUnit: '%',
    toldBy: TORQUE,
  },
} as const satisfies Record<string, KindOfTable>

export type TableKind = keyof typeof KINDS
export const TABLE_KINDS = Object.keys(KINDS) as TableKind[]

/** What is known of a kind of table. */
export const kindOfTable = (kind: TableKind): KindOfTable => KINDS[kind]
/** Whether a table corrects the fuel itself. */
export const setsFuel = ({ kind }: { kind: TableKind }): boolean => KINDS[kind].sets === 'fuel'
/** Whether a table holds fuel itself, or what it goes with: its cells multiply. */
export const isBaseFuel = (kind: TableKind): boolean => kind === 'fuel base' || kind === 'filling'
/** Whether a table says what lambda is wanted. */
export const setsTarget = ({ kind }: { kind: TableKind }): boolean => KINDS[kind].sets === 'target'
/** Whether a table sets the advance. */
export const setsSpark = ({ kind }: { kind: TableKind }): boolean => KINDS[kind].sets === 'spark'
/** Whether a table is the map from grip to plate. */
export const setsPlate = ({ kind }: { kind: TableKind }): boolean => KINDS[kind].sets === 'plate'

import { fuelById } from '../fuel/fuels'
import { filled, type LoadGrid, type Table } from '../table/table'
import { airPerCycle, volumetricEfficiency, type Breathing, type EngineBuild } from './air'
import { calibrate, type Acceleration, type Calibration, type Injectors } from './controller'
import { sound } from './faults'
import type { Rig } from './rig'
import { bestAdvance } from './spark'

/** Invented machines that ship with the simulated rig. */
export const CURLEW_437: EngineBuild = {
  cylinders: 1,
  displacementCc: 437,
  bestRpm: 7200,
  redline: 10500,
  spread: [{ low: 1, high: 1 }],
}

export const GODWIT_712: EngineBuild = {
  cylinders: 2,
  displacementCc: 712,
  bestRpm: 6800,
  redline: 10000,
  spread: [
    { low: 1, high: 1.012 },
    { low: 0.985, high: 0.955 },
  ],
}

export const AVOCET_312: EngineBuild = {
  cylinders: 1,
  displacementCc: 312,
  bestRpm: 7600,
  redline: 10500,
  spread: [{ low: 1, high: 1 }],
}

/** A small single whose spark is set by a plate that turns in its slots, and by the weights behind it. */
export const DUNLIN_208: EngineBuild = {
  cylinders: 1,
  displacementCc: 208,
  bestRpm: 7000,
  redline: 9500,
  spread: [{ low: 1, high: 1 }],
}

/** A middleweight twin whose plates are moved by a motor. */
export const DUNNOCK_498: EngineBuild = {
  cylinders: 2,
  displacementCc: 498,
  bestRpm: 7000,
  redline: 10000,
  spread: [
    { low: 1, high: 1 },
    { low: 1, high: 1 },
  ],
}

/** A small single whose controller holds its fuel as pulses. */
export const SISKIN_286: EngineBuild = {
  cylinders: 1,
  displacementCc: 286,
  bestRpm: 7400,
  redline: 10500,
  spread: [{ low: 1, high: 1 }],
}

/** A twin whose controller holds filling and commanded lambda. */
export const WHINCHAT_641: EngineBuild = {
  cylinders: 2,
  displacementCc: 641,
  bestRpm: 6600,
  redline: 9500,
  spread: [
    { low: 1, high: 1 },
    { low: 1, high: 1 },
  ],
}

/** What the machines left the factory with. */
export const STOCK_BREATHING: Breathing = {
  exhaust: [
    { rpm: 4600, width: 900, gain: 0.03 },
    { rpm: 6600, width: 1100, gain: 0.05 },
  ],
  intake: [{ rpm: 8300, width: 1200, gain: 0.04 }],
  flow: 1,
}

/** A shorter open silencer: the low ripple turns to a hole, the high one moves up, more flow at the top. */
export const OPEN_SILENCER: Breathing = {
  exhaust: [
    { rpm: 4300, width: 800, gain: -0.03 },
    { rpm: 5500, width: 900, gain: 0.07 },
    { rpm: 8600, width: 1300, gain: 0.08 },
  ],
  intake: [{ rpm: 8300, width: 1200, gain: 0.04 }],
  flow: 1.03,
}

/** An open filter lid with the stock exhaust. */
export const OPEN_LID: Breathing = {
  exhaust: STOCK_BREATHING.exhaust,
  intake: [
    { rpm: 5200, width: 900, gain: 0.05 },
    { rpm: 9000, width: 1100, gain: 0.06 },
  ],
  flow: 1.04,
}

const CONTROLLER_GRID: LoadGrid = {
  loadAxis: 'throttle',
  rpm: [
    1000, 1500, 2000, 2500, 3000, 3500, 4000, 4500, 5000, 5500, 6000, 6500, 7000, 7500, 8000, 8500, 9000, 9500, 10000,
  ],
  load: [0, 2, 5, 10, 15, 20, 30, 40, 60, 80, 90, 100],
}

/** The factory's own target: leaner at small openings, richer wide open. */
function factoryTarget(plate: number): number {
  return plate <= 20 ? 0.985 : plate >= 70 ? 0.885 : 0.985 - ((plate - 20) / 50) * 0.1
}

/** rpm between which the factory held the spark back, so that the machine is quiet when it drives past; and by how much, degrees. */
const QUIET = { from: 3400, to: 6000, degrees: 4 }

/** The factory's own advance: a little less than best, away from knock where the engine fills well, less where it must be quiet. */
function factoryAdvance(rpm: number, filling: number): number {
  const quiet = rpm > QUIET.from && rpm < QUIET.to ? QUIET.degrees : 0
  return Math.round(10 * (Math.min(bestAdvance(rpm, filling, 0.9) - 2, 40 - 14 * Math.min(1, filling)) - quiet)) / 10
}

/** A rig with a machine whose calibration was made for stock parts. */
export function rigFor(
  engine: EngineBuild,
  breathing: Breathing,
  over: Partial<Pick<Calibration, 'loop' | 'trims' | 'acceleration' | 'plates'>> & { backS?: number } = {},
): Rig {
  const { stoichAfr, ron } = fuelById('e5')!
  const fuel = { stoichAfr, ron }
  const weather = { pressureKpa: 100.6, temperatureC: 21 }
  const grid = { ...CONTROLLER_GRID, rpm: CONTROLLER_GRID.rpm.filter((rpm) => rpm <= engine.redline) }
  const alike = { ...engine, spread: [{ low: 1, high: 1 }] }
  const filling = (rpm: number, plate: number): number => volumetricEfficiency(alike, STOCK_BREATHING, 0, rpm, plate)
  const base: Table = {
    ...grid,
    kind: 'fuel base',
    composition: 'multiply',
    values: calibrate(grid, (rpm, plate) => {
      const volume = engine.displacementCc / engine.cylinders
      const air = airPerCycle(filling(rpm, plate), volume, weather.pressureKpa, weather.temperatureC)
      return air / (fuel.stoichAfr * factoryTarget(plate))
    }),
  }
  const spark: Table = {
    ...grid,
    kind: 'spark base',
    composition: 'add',
    values: calibrate(grid, (rpm, plate) => factoryAdvance(rpm, filling(rpm, plate))),
  }
  return {
    engine,
    breathing,
    calibration: {
      base,
      trims: over.trims ?? [],
      spark,
      loop: over.loop ?? [],
      cut: { plate: 2, rpm: 2400, ...(over.backS && { backS: over.backS }) },
      ...(over.acceleration && { acceleration: over.acceleration }),
      ...(over.plates && { plates: over.plates }),
    },
    wideband: { transport: 0.16, response: 0.05, noise: 0.008, least: 0.68, most: 1.42 },
    fuel,
    weather,
    faults: sound(engine.cylinders),
  }
}

/** The same calibration with its fuel as pulses, ms, for some injectors. */
export function inPulses(calibration: Calibration, { flow, deadMs }: Injectors): Calibration {
  const { base } = calibration
  const values = base.values.map((cells) => cells.map((mg) => Math.round(1000 * (mg / flow + deadMs)) / 1000))
  return { ...calibration, base: { ...base, values } }
}

/** The same calibration with its fuel as filling and commanded lambda: fuel = filling / lambda. */
export function inFilling({ calibration, engine, weather, fuel }: Rig): Calibration {
  const { base } = calibration
  const fullMg = airPerCycle(1, engine.displacementCc / engine.cylinders, weather.pressureKpa, weather.temperatureC)
  const atStoich = fullMg / fuel.stoichAfr
  const commanded = calibrate(base, (_, plate) => Math.round(1000 * factoryTarget(plate)) / 1000)
  return {
    ...calibration,
    base: {
      ...base,
      kind: 'filling',
      values: base.values.map((cells, row) =>
        cells.map((mg, column) => Math.round((1000 * mg * commanded[row]![column]!) / atStoich) / 10),
      ),
    },
    filling: { fullMg: atStoich, commanded: { ...base, kind: 'lambda target', values: commanded } },
  }
}

/** Breakpoints of the fuel added as the plate opens: rpm, and % of plate per second. */
const ACCELERATION_GRID: LoadGrid = {
  loadAxis: 'throttle',
  rpm: [1500, 3000, 4500, 6000, 8000],
  load: [40, 100, 200, 400],
}

/**
 * Fuel added as the plate opens, percent: the more the quicker, the less the faster the engine turns.
 *
 * @param most percent at the quickest opening and lowest speed; @param decay s
 */
export function accelerationFuel(most: number, decay: number): Acceleration {
  const { load, rpm } = ACCELERATION_GRID
  const values = load.map((rate) => rpm.map((speed) => most * Math.sqrt(rate / 400) * (1.15 - speed / 10_000)))
  return { amount: { ...ACCELERATION_GRID, kind: 'acceleration fuel', composition: 'multiply', values }, decay }
}

/** Breakpoints of a plate table: rpm, and % of grip. */
const PLATE_GRID: LoadGrid = {
  loadAxis: 'throttle',
  rpm: [1500, 2500, 3500, 4500, 5500, 6500, 7500, 8500, 9500],
  load: [0, 3, 6, 10, 15, 20, 25, 33, 42, 55, 70, 85, 100],
}

/** A plate table from what a grip opens at a speed, %. */
export function plateTable(opening: (grip: number, rpm: number) => number): Table {
  const { load, rpm } = PLATE_GRID
  const values = load.map((grip) =>
    rpm.map((speed) => Math.round(10 * Math.min(100, Math.max(IDLE_STOP, opening(grip, speed)))) / 10),
  )
  return { ...PLATE_GRID, kind: 'plate', composition: 'multiply', values }
}

/** % of plate that a motor leaves open with the grip shut. */
const IDLE_STOP = 1

/** An empty percent trim on the controller's breakpoints. */
export function emptyTrim(grid: LoadGrid): Table {
  return {
    loadAxis: grid.loadAxis,
    rpm: grid.rpm,
    load: grid.load,
    kind: 'fuel trim',
    composition: 'multiply',
    values: filled(grid, 0),
  }
}

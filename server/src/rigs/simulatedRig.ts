import {
  refused,
  calibrationFault,
  DEFAULT_LIVE,
  dryPressure,
  liveRig,
  lambdaFromShown,
  OXYGEN_PCT,
  plateFromVolts,
  rigOf,
  LEAST_BATTERY,
  rangeFault,
  shapeFault,
  UNCALIBRATED,
  type CalibrationStep,
  type Matrix,
  type RigControls,
  type RigFaults,
  type RigSample,
  type Rig,
  type SimulatedMachine,
  type Weather,
  plain,
} from '@yuzumix/core'
import type { RigMemory } from './rigMemory'
import type { Clock } from './clock'
import { controllerSlots } from './controllerSlots'
import { type ControllerTable, type RigLink } from './rigLink'

/** Hz of the readings. */
const RATE = 50
/** V below which a write is refused: a drop half way leaves a controller that does not answer. */
/** ms that a write takes; a drop of the battery inside it cuts the write off. */
const WRITE_TAKES = 400
const RUNNING = 450

const RANGES: Partial<Record<keyof RigControls, [number, number]>> = {
  throttle: [0, 100],
  gear: [0, 6],
  sparkOffset: [-20, 20],
  fuelOffset: [-30, 40],
  mode: [0, 3],
}

export interface SimulatedChoice {
  machine: SimulatedMachine
  name: string
  seed: number
  clock: Clock
  /** times as fast as the clock: 1 or 4 */
  speed: number
  coolant: number
  faults: RigFaults
  weather: Weather
  /** research octane number of what is in the tank */
  ron: number
  /** what it remembers from before; null when it is new */
  memory: RigMemory | null
  /** Stores what must outlast the power, before it is confirmed. */
  remember(memory: RigMemory): Promise<void>
}

/** Faults that a simulated rig can be given, so that recovery can be learned and tested. */
interface SimulatedFaults {
  /** V taken off the battery */
  lowBattery: number
  /** the next write is cut off half way */
  dropDuringWrite: boolean
  /** the link gives no reading any more */
  silent: boolean
}

/** What the rig's own sensors give in truth, whatever their data sheets say: volts of the plate, gain of the wideband. */
const TRUE_SENSORS = { closedVolts: 0.5, openVolts: 4.38, gain: 1.05 }
/** s that the engine must have stood, for fresh air to have come to the sensor. */
const AIRED = 4
/** % of plate within which an end of the range is taken. */
const NEAR_END = 4

/** A simulated rig, with the faults it can be given and what is true of its machine. */
export interface SimulatedRig extends RigLink {
  faults: SimulatedFaults
  rig: Rig
}

/** The simulated rig behind the interface of every rig. */
export function simulatedRig(choice: SimulatedChoice): SimulatedRig {
  const { machine, seed, speed, clock, memory, remember } = choice
  const { temperatureC } = choice.weather
  const works = rigOf(machine)
  const rig: Rig = {
    ...works,
    fuel: { ...works.fuel, ron: choice.ron },
    faults: choice.faults,
    // Vapour takes room and burns nothing.
    weather: { temperatureC, pressureKpa: dryPressure(choice.weather) },
  }
  const live = liveRig(rig, { ...DEFAULT_LIVE, coolant: choice.coolant }, seed)
  const faults: SimulatedFaults = { lowBattery: 0, dropDuringWrite: false, silent: false }
  const hearers = new Set<(sample: RigSample) => void>()
  const slots = controllerSlots(rig, machine)
  const valuesOf = (): Matrix[] => slots.map((slot) => slot.table().values)
  const atWorks = valuesOf()
  // A memory from before a controller had as many tables lacks the last of them.
  const first = atWorks.map((values, k) => memory?.first[k] ?? values)
  let permanent = atWorks.map((values, k) => memory?.kept[k] ?? values)
  let calibration = memory?.sensors ?? UNCALIBRATED
  let readable = memory?.readable ?? true
  const unkept = new Set<string>()
  let changed = JSON.stringify(permanent) !== JSON.stringify(first)
  let stoodSince = -Infinity

  const load = (values: readonly Matrix[]): void => slots.forEach((slot, k) => slot.load(values[k]!))
  if (memory) load(permanent)
  const store = (kept: Matrix[], over: Partial<RigMemory> = {}): Promise<void> =>
    remember({ first, kept, sensors: calibration, readable, ...over })
  const volts = (plate: number): number =>
    TRUE_SENSORS.closedVolts + ((TRUE_SENSORS.openVolts - TRUE_SENSORS.closedVolts) * plate) / 100
  let plateVolts = TRUE_SENSORS.closedVolts
  /** A reading as the rig's sensors give it, by what is known of them. */
  function read(): RigSample {
    const truth = live.sample()
    plateVolts = volts(truth.throttle)
    return {
      ...truth,
      throttle: plateFromVolts(plateVolts, calibration),
      lambda: truth.lambda.map((one) => lambdaFromShown(1 + (one - 1) * TRUE_SENSORS.gain, calibration)),
      battery: truth.battery - faults.lowBattery,
    }
  }
  let latest = read()
  const freeAir = (): number | null => (latest.time - stoodSince >= AIRED ? OXYGEN_PCT * TRUE_SENSORS.gain : null)
  const battery = (): number => latest.battery
  function needsAnswer(): void {
    if (!readable)
      throw refused(
        'bench',
        'The controller does not answer since a write was cut off. Recover it first.',
        'controller',
      )
  }

  // A late timer takes more steps at once, so that the rig stays with its clock.
  let due = clock.now() + 1000 / RATE / speed
  const halt = clock.every(1000 / RATE, () => {
    const now = clock.now()
    if (now - due > 1000) due = now - 1000
    for (; due <= now; due += 1000 / RATE / speed) {
      live.step(1 / RATE)
      latest = read()
      if (latest.rpm > 50) stoodSince = latest.time
      if (!faults.silent) for (const hear of hearers) hear(latest)
    }
  })

  return {
    rig,
    faults,
    name: `Simulated rig: ${choice.name}`,
    cylinders: machine.engine.cylinders,
    redline: machine.engine.redline,
    weather: () => choice.weather,
    listen(hear) {
      hearers.add(hear)
      return () => hearers.delete(hear)
    },
    set(controls) {
      for (const [name, [least, most]] of Object.entries(RANGES)) {
        const value = controls[name as 'throttle']
        if (value !== undefined && !(value >= least && value <= most))
          throw refused('bench', `${name} ${value} is outside ${least} to ${most}.`, name)
      }
      const { brake } = controls
      const speedOf = brake && (brake.kind === 'hold' ? brake.rpm : brake.kind === 'sweep' ? brake.toRpm : null)
      if (speedOf !== null && speedOf !== undefined && !(speedOf >= 500 && speedOf <= machine.engine.redline))
        throw refused('bench', `The brake cannot hold ${speedOf} rpm: 500 to ${machine.engine.redline}.`, 'brake')
      Object.assign(live.controls, controls)
    },
    controls: () => ({ ...live.controls }),
    state: () => ({ readable, unkept: [...unkept], changed }),
    sensors: () => ({ calibration, throttleVolts: plateVolts, freeAirPct: freeAir() }),
    async calibrate(step: CalibrationStep) {
      if (latest.rpm > 50)
        throw refused('bench', 'Stop the engine first: sensors are calibrated with it at rest.', 'engine')
      const air = freeAir()
      if (step === 'free-air' && air === null)
        throw refused(
          'bench',
          `There is still exhaust gas at the sensor. Wait ${AIRED} s after the engine stopped, or hang it in fresh air.`,
          'wideband',
        )
      const plate = live.controls.throttle
      if (step === 'closed' ? plate > NEAR_END : step === 'open' && plate < 100 - NEAR_END)
        throw refused(
          'bench',
          step === 'closed' ? 'Let the plate shut first.' : 'Open the plate all the way first, and hold it there.',
          'throttle',
        )
      const next = {
        ...calibration,
        ...(step === 'closed'
          ? { closedVolts: plateVolts }
          : step === 'open'
            ? { openVolts: plateVolts }
            : { freeAirPct: air }),
      }
      const fault = calibrationFault(next)
      if (fault) throw refused('bench', fault, step)
      await store(permanent, { sensors: next })
      calibration = next
    },
    async tables() {
      needsAnswer()
      return slots.map(({ id, name, cylinder, table }): ControllerTable => ({ id, name, cylinder, table: table() }))
    },
    firstTables: async () =>
      slots.map(({ id, name, cylinder, table }, k): ControllerTable => ({
        id,
        name,
        cylinder,
        table: { ...table(), values: first[k]! },
      })),
    async write(table, values) {
      needsAnswer()
      const at = slots.findIndex((slot) => slot.id === table)
      if (at < 0) throw refused('bench', `The controller has no table "${table.slice(0, 40)}".`, 'table')
      const fault = shapeFault(slots[at]!.table(), values)
      if (fault) throw refused('bench', `The table does not fit the controller: ${fault}`, 'values')
      const outside = rangeFault(slots[at]!.table().kind, values)
      if (outside) throw refused('bench', `${outside} This controller does not take it.`, 'values')
      if (latest.rpm > RUNNING)
        throw refused('bench', 'This controller takes no write while the engine runs. Stop it first.', 'engine')
      if (battery() < LEAST_BATTERY)
        throw refused(
          'bench',
          `The battery has ${plain(battery(), 1)} V; a write needs ${LEAST_BATTERY} V. Put a charger on: a drop half way leaves a controller that does not answer.`,
          'battery',
        )
      await clock.wait(WRITE_TAKES)
      if (faults.dropDuringWrite) {
        faults.dropDuringWrite = false
        readable = false
        await store(permanent)
        throw refused(
          'bench',
          'Voltage dropped during the write. The controller does not answer now; recover it.',
          'battery',
        )
      }
      slots[at]!.load(values)
      unkept.add(table)
      changed = true
    },
    async keep() {
      needsAnswer()
      await store(valuesOf())
      permanent = valuesOf()
      unkept.clear()
    },
    async restore() {
      needsAnswer()
      await store(first)
      permanent = first
      load(first)
      unkept.clear()
      changed = false
    },
    async recover() {
      await store(first, { readable: true })
      readable = true
      permanent = first
      load(first)
      unkept.clear()
      changed = false
    },
    async powerCycle() {
      Object.assign(live.controls, { ignition: false, fuel: false, throttle: 0, gear: 0, brake: { kind: 'off' } })
      load(permanent)
      unkept.clear()
    },
    close() {
      halt()
      hearers.clear()
    },
  }
}

import {
  isRunning,
  refused,
  DEFAULT_LIVE,
  dryPressure,
  liveRig,
  neutralWays,
  rigOf,
  LEAST_BATTERY,
  rangeFault,
  shapeFault,
  UNCALIBRATED,
  type CalibrationStep,
  type ControllerWays,
  type Matrix,
  type RigFaults,
  type RigSample,
  type Rig,
  type SimulatedMachine,
  type Weather,
  plain,
} from '@yuzumix/core'
import type { RigMemory } from './rigMemory'
import { simulatedSensors } from './simulatedSensors'
import type { Clock } from './clock'
import { checkControls } from './checkControls'
import { controllerSlots } from './controllerSlots'
import { type ControllerTable, type RigLink } from './rigLink'
import { wayFault } from './wayFault'

/** Hz of the readings. */
const RATE = 50
/** ms that a write takes; a drop of the battery inside it cuts the write off. */
const WRITE_TAKES = 400

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
  const firstWays = memory?.ways?.first ?? neutralWays()
  let permanentWays = memory?.ways?.kept ?? firstWays
  let readable = memory?.readable ?? true
  const unkept = new Set<string>()
  let changed = JSON.stringify([permanent, permanentWays]) !== JSON.stringify([first, firstWays])

  const waysNow = (): ControllerWays => rig.calibration.ways ?? firstWays
  function load(values: readonly Matrix[], ways: ControllerWays): void {
    slots.forEach((slot, k) => slot.load(values[k]!))
    rig.calibration.ways = ways
  }
  if (memory) load(permanent, permanentWays)
  const store = (kept: Matrix[], ways: ControllerWays, over: Partial<RigMemory> = {}): Promise<void> =>
    remember({ first, kept, ways: { first: firstWays, kept: ways }, sensors: sensors.calibration(), readable, ...over })
  const sensors = simulatedSensors(memory?.sensors ?? UNCALIBRATED)
  /** A reading as the rig's sensors give it, by what is known of them. */
  function read(): RigSample {
    const seen = sensors.read(live.sample())
    return { ...seen, battery: seen.battery - faults.lowBattery }
  }
  let latest = read()
  const battery = (): number => latest.battery
  function needsAnswer(): void {
    if (!readable)
      throw refused(
        'bench',
        'The controller does not answer since a write was cut off. Recover it first.',
        'controller',
      )
  }

  /** Whether a write can be done now, and the time that it takes. @throws Refusal 'bench' */
  async function needsWritable(): Promise<void> {
    if (isRunning(latest.rpm))
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
      await store(permanent, permanentWays)
      throw refused(
        'bench',
        'Voltage dropped during the write. The controller does not answer now; recover it.',
        'battery',
      )
    }
  }

  // A late timer takes more steps at once, so that the rig stays with its clock.
  let due = clock.now() + 1000 / RATE / speed
  const halt = clock.every(1000 / RATE, () => {
    const now = clock.now()
    if (now - due > 1000) due = now - 1000
    for (; due <= now; due += 1000 / RATE / speed) {
      live.step(1 / RATE)
      latest = read()
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
      checkControls(controls, machine.engine.redline)
      Object.assign(live.controls, controls)
    },
    controls: () => ({ ...live.controls }),
    state: () => ({ readable, unkept: [...unkept], changed }),
    sensors: sensors.state,
    async calibrate(step: CalibrationStep) {
      const next = sensors.calibrated(step, live.controls.throttle)
      await store(permanent, permanentWays, { sensors: next })
      sensors.take(next)
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
      await needsWritable()
      slots[at]!.load(values)
      unkept.add(table)
      changed = true
    },
    async ways() {
      needsAnswer()
      return waysNow()
    },
    firstWays: async () => firstWays,
    async writeWay(kind, settings) {
      needsAnswer()
      const fault = wayFault(kind, settings)
      if (fault) throw refused('bench', `${fault} This controller does not take it.`, 'settings')
      await needsWritable()
      rig.calibration.ways = { ...waysNow(), [kind]: settings }
      unkept.add(kind)
      changed = true
    },
    async keep() {
      needsAnswer()
      await store(valuesOf(), waysNow())
      ;[permanent, permanentWays] = [valuesOf(), waysNow()]
      unkept.clear()
    },
    async restore() {
      needsAnswer()
      await store(first, firstWays)
      ;[permanent, permanentWays] = [first, firstWays]
      load(first, firstWays)
      unkept.clear()
      changed = false
    },
    async recover() {
      await store(first, firstWays, { readable: true })
      readable = true
      ;[permanent, permanentWays] = [first, firstWays]
      load(first, firstWays)
      unkept.clear()
      changed = false
    },
    async powerCycle() {
      Object.assign(live.controls, { ignition: false, fuel: false, throttle: 0, gear: 0, brake: { kind: 'off' } })
      load(permanent, permanentWays)
      unkept.clear()
    },
    close() {
      halt()
      hearers.clear()
    },
  }
}

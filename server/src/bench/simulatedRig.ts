import {
  DEFAULT_LIVE,
  liveRig,
  rigOf,
  shapeFault,
  type Calibration,
  type Matrix,
  type RigControls,
  type RigSample,
  type SimulatedMachine,
} from '@yuzumix/core'
import { RigRefusal, type ControllerTable, type RigLink } from './rigLink'

/** Hz of the readings. */
const RATE = 50
/** V below which a write is refused: a drop half way leaves a controller that does not answer. */
const LEAST_BATTERY = 12.2
/** ms that a write takes; a drop of the battery inside it cuts the write off. */
const WRITE_TAKES = 400
const RUNNING = 450

const RANGES: Partial<Record<keyof RigControls, [number, number]>> = {
  throttle: [0, 100],
  gear: [0, 6],
  sparkOffset: [-20, 20],
}

export interface SimulatedChoice {
  machine: SimulatedMachine
  seed: number
  /** times as fast as the clock: 1 or 4 */
  speed: number
  coolant: number
}

/** Faults that a simulated rig can be given, so that recovery can be learned and tested. */
export interface SimulatedFaults {
  /** V taken off the battery */
  lowBattery: number
  /** the next write is cut off half way */
  dropDuringWrite: boolean
  /** the link gives no reading any more */
  silent: boolean
}

/** The simulated rig behind the interface of every rig, with the faults it can be given. */
export function simulatedRig(
  choice: SimulatedChoice,
): RigLink & { faults: SimulatedFaults; machine: SimulatedMachine } {
  const { machine, seed, speed } = choice
  const rig = rigOf(machine)
  const live = liveRig(rig, { ...DEFAULT_LIVE, coolant: choice.coolant }, seed)
  const faults: SimulatedFaults = { lowBattery: 0, dropDuringWrite: false, silent: false }
  const hearers = new Set<(sample: RigSample) => void>()
  const valuesOf = (): Matrix[] =>
    machine.edits === 'trims' ? rig.calibration.trims.map((one) => one.values) : [rig.calibration.base.values]
  const first = valuesOf()
  let permanent = first
  let readable = true
  const unkept = new Set<string>()
  let changed = false
  let latest = live.sample()

  function load(values: readonly Matrix[]): void {
    const { calibration } = rig as { calibration: Calibration }
    if (machine.edits === 'trims')
      calibration.trims = calibration.trims.map((one, c) => ({ ...one, values: values[c]! }))
    else calibration.base = { ...calibration.base, values: values[0]! }
  }
  const battery = (): number => latest.battery - faults.lowBattery
  const idOf = (k: number): string => (machine.edits === 'trims' ? `trim-${k + 1}` : 'base')
  function needsAnswer(): void {
    if (!readable)
      throw new RigRefusal('The controller does not answer since a write was cut off. Recover it first.', 'controller')
  }

  // A late timer takes more steps at once, so that the rig's clock stays with the wall's.
  let due = performance.now()
  const timer = setInterval(() => {
    const now = performance.now()
    if (now - due > 1000) due = now - 1000
    for (; due <= now; due += 1000 / RATE / speed) {
      live.step(1 / RATE)
      latest = { ...live.sample() }
      latest.battery -= faults.lowBattery
      if (!faults.silent) for (const hear of hearers) hear(latest)
    }
  }, 1000 / RATE)

  return {
    machine,
    faults,
    name: `Simulated rig: ${machine.name}`,
    cylinders: machine.engine.cylinders,
    redline: machine.engine.redline,
    listen(hear) {
      hearers.add(hear)
      return () => hearers.delete(hear)
    },
    set(controls) {
      for (const [name, [least, most]] of Object.entries(RANGES)) {
        const value = controls[name as 'throttle']
        if (value !== undefined && !(value >= least && value <= most))
          throw new RigRefusal(`${name} ${value} is outside ${least} to ${most}.`, name)
      }
      const { brake } = controls
      const speedOf = brake && (brake.kind === 'hold' ? brake.rpm : brake.kind === 'sweep' ? brake.toRpm : null)
      if (speedOf !== null && speedOf !== undefined && !(speedOf >= 500 && speedOf <= machine.engine.redline))
        throw new RigRefusal(`The brake cannot hold ${speedOf} rpm: 500 to ${machine.engine.redline}.`, 'brake')
      Object.assign(live.controls, controls)
    },
    controls: () => ({ ...live.controls }),
    state: () => ({ readable, unkept: [...unkept], changed }),
    async tables() {
      needsAnswer()
      const { base, trims } = rig.calibration
      return machine.edits === 'trims'
        ? trims.map((table, c): ControllerTable => ({
            id: idOf(c),
            name: `Trim, cylinder ${c + 1}`,
            cylinder: c + 1,
            table,
          }))
        : [{ id: idOf(0), name: 'Fuel, mg per cycle', cylinder: null, table: base }]
    },
    async write(table, values) {
      needsAnswer()
      const at = valuesOf().findIndex((_, k) => idOf(k) === table)
      if (at < 0) throw new RigRefusal(`The controller has no table "${table.slice(0, 40)}".`, 'table')
      const fault = shapeFault(rig.calibration.base, values)
      if (fault) throw new RigRefusal(`The table does not fit the controller: ${fault}`, 'values')
      if (latest.rpm > RUNNING)
        throw new RigRefusal('This controller takes no write while the engine runs. Stop it first.', 'engine')
      if (battery() < LEAST_BATTERY)
        throw new RigRefusal(
          `The battery has ${battery().toFixed(1)} V; a write needs ${LEAST_BATTERY} V. Put a charger on: a drop half way leaves a controller that does not answer.`,
          'battery',
        )
      await new Promise((resolve) => setTimeout(resolve, WRITE_TAKES))
      if (faults.dropDuringWrite) {
        faults.dropDuringWrite = false
        readable = false
        throw new RigRefusal(
          'Voltage dropped during the write. The controller does not answer now; recover it.',
          'battery',
        )
      }
      load(valuesOf().map((one, k) => (k === at ? values : one)))
      unkept.add(table)
      changed = true
    },
    async keep() {
      needsAnswer()
      permanent = valuesOf()
      unkept.clear()
    },
    async restore() {
      needsAnswer()
      permanent = first
      load(first)
      unkept.clear()
      changed = false
    },
    async recover() {
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
      clearInterval(timer)
      hearers.clear()
    },
  }
}

import type {
  CalibrationStep,
  ControllerWays,
  LiveColumn,
  Matrix,
  RigControls,
  RigSample,
  SensorCalibration,
  Table,
  Weather,
} from '@yuzumix/core'

/** A table in the controller, as the rig reads it. */
export interface ControllerTable {
  id: string
  name: string
  /** from 1; null when it serves all */
  cylinder: number | null
  table: Table
}

/** What is to be known of a controller's memory. */
interface ControllerState {
  /** false after a write that was cut off: nothing answers until it is recovered */
  readable: boolean
  /** tables that were written and not kept: gone when power goes */
  unkept: string[]
  /** something was written since the first contents were saved */
  changed: boolean
}

/** What is known of the rig's sensors. */
interface SensorState {
  calibration: SensorCalibration
  /** V of the throttle sensor now */
  throttleVolts: number
  /** % oxygen that the wideband shows; null while there is no fresh air at it */
  freeAirPct: number | null
}

/**
 * The one way to a rig. A real one is another maker of this interface; `simulatedRig` is the first. Readings come at 50 Hz in
 * the core's units; every method may reject with a Refusal 'bench', which changes nothing.
 */
export interface RigLink {
  readonly name: string
  /** it is read and never set: a danger is told and stops nothing, for nothing could be stopped */
  readonly readsOnly?: true
  /** of a source of lines: its columns, and what is wrong with it in words */
  lines?(): { source: string; baud: number | null; columns: LiveColumn[]; said: string; strange: number }
  /** banks or cylinders with a wideband of their own */
  readonly cylinders: number
  readonly redline: number
  /** air at the rig; null where it has no station */
  weather(): Weather | null
  /** Hears every reading. @returns stops hearing */
  listen(hear: (sample: RigSample) => void): () => void
  /** Sets what is given. @throws Refusal 'bench' for a control out of range */
  set(controls: Partial<RigControls>): void
  controls(): RigControls
  state(): ControllerState
  sensors(): SensorState
  /** Takes what a sensor reads now as that end of its range. @throws Refusal 'bench' when it cannot be that */
  calibrate(step: CalibrationStep): Promise<void>
  tables(): Promise<ControllerTable[]>
  /** What was in them before the first write: what `restore` brings back. */
  firstTables(): Promise<ControllerTable[]>
  /** Volatile: lost when power goes. The first contents are saved before the first write. */
  write(table: string, values: Matrix): Promise<void>
  /** Settings beside its tables: a coarse trim, bands, strips, one percent, the rail's pressure. */
  ways(): Promise<ControllerWays>
  /** The same as before the first write. */
  firstWays(): Promise<ControllerWays>
  /** Sets one of them; volatile as a table is. @throws Refusal 'bench' for what it does not take */
  writeWay<K extends keyof ControllerWays>(kind: K, settings: ControllerWays[K]): Promise<void>
  /** Makes what was written permanent. */
  keep(): Promise<void>
  /** Brings back what was there before the first write, permanently. */
  restore(): Promise<void>
  /** Makes a controller readable again after a write that was cut off; its contents are the first ones. */
  recover(): Promise<void>
  /** Cuts power to controller and engine, and gives it back. */
  powerCycle(): Promise<void>
  close(): void
}

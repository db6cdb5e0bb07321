import { expose } from 'comlink'
import {
  heldZonesOfRuns,
  overlay,
  rulerOver,
  type CurveOptions,
  type Overlay,
  type RunColumns,
  type HeldChoice,
} from '@yuzumix/core'
import { columnStore, type AskedRun } from './columnStore'

const columns = columnStore()

/** Runs of one stop, to be laid over each other. */
export interface AskedStop {
  stop: number | null
  runs: AskedRun[]
}

/** Where closed loop holds the mixture at a load, and the rpm where it lets go. */
export interface HeldSpan {
  load: number
  fromRpm: number
  toRpm: number
}

/** Curves of runs, off the interface's thread. */
const runsWorker = {
  addRun(key: string, run: RunColumns): void {
    columns.add(key, run)
  },
  /** One overlay a stop, all on one ruler; null where no run turned. */
  overlays(stops: readonly AskedStop[], options: CurveOptions, factor: number): (Overlay | null)[] {
    const picked = stops.map((one) => columns.pick(one.runs))
    const ruler = rulerOver(picked.flat())
    return picked.map((runs, k) =>
      ruler && runs.length ? overlay(runs, ruler, options, factor, stops[k]!.stop) : null,
    )
  },
  held(asked: readonly AskedRun[], choice: HeldChoice): HeldSpan[] {
    return heldZonesOfRuns(columns.pick(asked), choice).map(({ load, fromRpm, toRpm }) => ({ load, fromRpm, toRpm }))
  },
}

export type RunsWorker = typeof runsWorker
expose(runsWorker)

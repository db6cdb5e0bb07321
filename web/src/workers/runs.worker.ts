import { expose } from 'comlink'
import {
  heldZonesOfRuns,
  overlay,
  rulerOver,
  type CurveOptions,
  type HeldChoice,
  type Overlay,
  type RunColumns,
  type RunInfo,
} from '@yuzumix/core'
import { columnStore } from './columnStore'

const { add, columnsOf } = columnStore()

/** Runs of one stop, to be laid over each other. */
export interface AskedStop {
  stop: number | null
  runs: RunInfo[]
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
    add(key, run)
  },
  /** One overlay a stop, all on one ruler; null where no run turned. */
  overlays(stops: readonly AskedStop[], options: CurveOptions, factor: number): (Overlay | null)[] {
    const picked = stops.map((one) => columnsOf(one.runs))
    const ruler = rulerOver(picked.flat())
    return picked.map((runs, k) =>
      ruler && runs.length ? overlay(runs, ruler, options, factor, stops[k]!.stop) : null,
    )
  },
  held(runs: readonly RunInfo[], choice: HeldChoice): HeldSpan[] {
    return heldZonesOfRuns(columnsOf(runs), choice).map(({ load, fromRpm, toRpm }) => ({ load, fromRpm, toRpm }))
  },
}

export type RunsWorker = typeof runsWorker
expose(runsWorker)

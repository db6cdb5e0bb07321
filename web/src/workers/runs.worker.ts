import { expose } from 'comlink'
import {
  cellSpans,
  heldZonesOfRuns,
  overlay,
  rulerOver,
  setAsideSpans,
  type CurveOptions,
  type Filters,
  type HeldChoice,
  type LoadGrid,
  type Overlay,
  type RunColumns,
  type RunInfo,
  type SetAsideSpan,
  type Span,
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

/** What of a run does not count for the mixture, and when it fed each cell of the field; null where it fed none. */
export interface CountedRun {
  setAside: SetAsideSpan[]
  fed: Span[][][] | null
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
  counted(run: RunInfo, grid: LoadGrid, lag: number, filters: Filters): CountedRun {
    const [columns] = columnsOf([run])
    if (!columns) return { setAside: [], fed: null }
    const how = { loadAxis: grid.loadAxis, lag, filters }
    return { setAside: setAsideSpans(columns, how), fed: cellSpans(columns, grid, how) }
  },
  held(runs: readonly RunInfo[], choice: HeldChoice): HeldSpan[] {
    return heldZonesOfRuns(columnsOf(runs), choice).map(({ load, fromRpm, toRpm }) => ({ load, fromRpm, toRpm }))
  },
}

export type RunsWorker = typeof runsWorker
expose(runsWorker)

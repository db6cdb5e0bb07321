import { setsSpark } from '../table/kinds'
import type { RunInfo } from '../run/runInfo'
import { DEFAULT_CURVE, type CurveOptions } from '../curves/lay/curve'
import type { TableHistory } from '../change/history'
import { isLeftOut } from '../run/runColumns'
import type { SparkRun } from '../spark/bin'
import { DEFAULT_SPARK_SETTINGS, type SparkSettings } from '../spark/choice'
import { judgeBin, type JudgedBin, type JudgeOptions } from '../spark/judge'
import { fitMixture, mixtureBins, type MixtureBin, type MixtureFit } from '../spark/mixtureSweep'
import { proveSpark, type SparkProof } from '../spark/proof'
import { nextSparkPoint, type NextPoint } from '../spark/nextPoint'
import { presentReadings, stepBins } from '../spark/stepBins'
import { sweepBins } from '../spark/sweepBins'
import type { ColumnsOf, JobGround, Loader } from './ground'
import { namedRuns } from './fieldRuns'
import { setAsked } from './setAsked'

/** What advance and mixture by torque are worked out from. */
export interface SparkQuestion {
  /** runs that were made at settings */
  runs: RunInfo[]
  /** runs in which fuel was added by hand */
  mixtureRuns: RunInfo[]
  /** runs that the latest change of the spark rests on, and those made after it */
  before: RunInfo[]
  after: RunInfo[]
  options: CurveOptions
  judge: JudgeOptions
  /** stops and speeds that are planned */
  range: Pick<SparkSettings['plan'], 'stops' | 'rpm'>
  /** setting in use now; null for the first one run */
  present: number | null
  knockLevel: number
  histories: TableHistory[]
}

const has = (run: RunInfo, channel: string): boolean => run.channels.some((one) => one.channel === channel)
const tellsTorque = (run: RunInfo): boolean => ['torque', 'power', 'drum'].some((name) => has(run, name))

/** What may be said otherwise than the job has it. */
export interface SparkAsked {
  set?: string | undefined
  runs?: readonly string[] | undefined
  options?:
    | { giveAwayPct?: number | undefined; knockMargin?: number | undefined; present?: number | null | undefined }
    | undefined
}

/** The latest save of a spark table that rests on runs. */
function lastMove({ tables }: JobGround) {
  return tables
    .filter((one) => setsSpark(one.table))
    .flatMap((one) => one.revisions.slice(1).filter((revision) => revision.runs.length > 0))
    .sort((a, b) => (a.createdAt < b.createdAt ? -1 : 1))
    .at(-1)
}

/**
 * Puts together what advance by torque is worked out from: runs of a set or those named, choices of the job, and what moved in its
 * tables.
 *
 * @param asked.options instead of the job's own choices
 * @throws Refusal 'input-refused' for a set or a run that is not there
 */
export async function sparkQuestion(
  ground: JobGround,
  loader: Pick<Loader, 'histories'>,
  asked: SparkAsked = {},
): Promise<SparkQuestion> {
  const { job } = ground
  const set = setAsked(ground, asked.set)
  const settings = { ...(job.spark ?? DEFAULT_SPARK_SETTINGS), ...told(asked.options) }
  const isUsable = (run: RunInfo): boolean => !isLeftOut(run) && tellsTorque(run)
  const usable = ground.runs.filter(isUsable)
  const own = asked.runs
    ? namedRuns(ground.runs, asked.runs).filter(isUsable)
    : usable.filter((run) => run.set === set?.id)
  const runs = own.filter((run) => has(run, 'spark') || run.setting !== null)
  const moved = lastMove(ground)
  const before = usable.filter((run) => moved?.runs.includes(run.id))
  const oldest = [...runs, ...before].map((one) => one.createdAt).sort()[0]
  return {
    runs,
    mixtureRuns: own.filter((run) => has(run, 'lambda1') && run.kind === 'mixture step'),
    before,
    after: usable.filter((run) => moved && run.createdAt > moved.createdAt && has(run, 'spark')),
    options: {
      ...DEFAULT_CURVE,
      smoothing: job.power.smoothing,
      drum: { inertia: set?.inertia ?? null, window: set?.drumWindow ?? DEFAULT_CURVE.drum.window },
      source: set?.torqueSource ?? null,
    },
    range: { stops: settings.plan.stops, rpm: settings.plan.rpm },
    judge: { giveAway: settings.giveAwayPct / 100, knockMargin: settings.knockMargin },
    present: settings.present,
    knockLevel: settings.knockLevel,
    histories: oldest === undefined ? [] : await loader.histories(job.id, oldest),
  }
}

/** What is said, without what is left out. */
const told = (options: SparkAsked['options']) =>
  Object.fromEntries(Object.entries(options ?? {}).filter(([, value]) => value !== undefined)) as Partial<
    Pick<SparkSettings, 'giveAwayPct' | 'knockMargin' | 'present'>
  >

/** Mixtures tried at a point, with what they come to. */
interface FittedMixture {
  bin: MixtureBin
  fit: MixtureFit
}

/** What the settings tried come to, and whether the last change of the spark did what it promised. */
export interface SparkTold {
  bins: JudgedBin[]
  mixtures: FittedMixture[]
  proof: SparkProof[]
  /** where to step the advance next; null before any point is measured */
  next: NextPoint | null
}

/** Advance and mixture from torque. */
export function answerSpark(question: SparkQuestion, columnsOf: ColumnsOf): SparkTold {
  const { runs, mixtureRuns, before, after, options, judge, range, present, knockLevel, histories } = question
  const withColumns = (some: readonly RunInfo[]): SparkRun[] =>
    some.flatMap((run) => columnsOf([run]).map((columns) => ({ columns, run })))
  const judged = (some: readonly RunInfo[], since: readonly TableHistory[]): JudgedBin[] => {
    const all = withColumns(some)
    return [...stepBins(all, knockLevel), ...sweepBins(all, options, present, knockLevel)]
      .map((bin) => judgeBin(bin, since, judge))
      .sort((a, b) => (a.bin.stop ?? 100) - (b.bin.stop ?? 100) || a.bin.rpm - b.bin.rpm)
  }
  const bins = judged(runs, histories)
  return {
    bins,
    next: nextSparkPoint(bins, range),
    mixtures: mixtureBins(columnsOf(mixtureRuns), knockLevel).map((bin) => ({ bin, fit: fitMixture(bin.points) })),
    proof: before.length && after.length ? proveSpark(judged(before, []), presentReadings(withColumns(after))) : [],
  }
}

import type { ComparedAnswer, CompareRequest } from '../contract/compare'
import type { Job } from '../contract/job'
import type { RunSet } from '../contract/set'
import { DEFAULT_COMPARE } from '../curves/compare/compare'
import { compareSides, type ComparedSides, type SidesChoice } from '../curves/compare/compareSides'
import type { Side, SideFacts } from '../curves/compare/side'
import { DEFAULT_CURVE } from '../curves/lay/curve'
import { plain } from '../numbers/format'
import { inputRefused, Refusal } from '../refusal/refusal'
import { comparedOfRun } from '../run/facts'
import { isLeftOut } from '../run/runColumns'
import type { RunInfo } from '../run/runInfo'
import { isSameStop } from '../run/stopOf'
import { stopsOf, type Stop } from '../run/stops'
import { settingsOfSweeps } from '../spark/setting'
import type { ColumnsOf } from './ground'
import { jobTarget } from './jobTarget'

/** A set of any job, with its job and that job's runs. */
interface StoredSet {
  job: Pick<Job, 'id' | 'title' | 'machine'>
  set: RunSet
  runs: readonly RunInfo[]
}

/** Brings sets by their ids; null for one that is not there. */
export type SetLoader = (id: string) => Promise<StoredSet | null>

/** Some repeats at a stop. */
type Group = Pick<Stop<RunInfo>, 'stop' | 'runs'>

/** A side by the runs it is made of, without their columns. */
interface SideAsked extends Omit<Side, 'runs' | 'besides'> {
  runs: RunInfo[]
  besides: Group[]
}

/** Sets to be compared. */
export interface CompareQuestion {
  first: SideAsked[]
  second: SideAsked
  choice: SidesChoice
}

/** Runs whose columns it needs. */
export const runsOfCompare = ({ first, second }: CompareQuestion): RunInfo[] =>
  [...first, second].flatMap((side) => [...side.runs, ...side.besides.flatMap((one) => one.runs)])

/**
 * Puts together what one set is compared from, with another or with several stock machines.
 *
 * @throws Refusal 'input-refused' for sets that are not there, or that cannot stand beside each other
 */
export async function compareQuestion(job: Job, load: SetLoader, asked: CompareRequest): Promise<CompareQuestion> {
  const { first: from = null, second: to = null } = asked.settings ?? {}
  if (asked.first.includes(asked.second) && from === to)
    throw inputRefused([{ field: 'second', message: 'is also the first: choose two different sets' }])
  const loaded = async (id: string, field: string): Promise<StoredSet> => {
    const found = await load(id)
    if (!found) throw inputRefused([{ field, message: `there is no set ${id.slice(0, 40)}` }])
    return found
  }
  const several = asked.first.length > 1
  const sets = await Promise.all(asked.first.map((id, k) => loaded(id, `first[${k}]`)))
  if (several && sets.some(({ set }) => set.figures))
    throw inputRefused([
      { field: 'first', message: 'entered figures stand for several machines already: choose them alone' },
    ])
  return {
    first: sets.map((one) => sideOf(one, job, asked, several, from)),
    second: sideOf(await loaded(asked.second, 'second'), job, asked, false, to),
    choice: {
      quantity: asked.quantity,
      correction: asked.correction ?? job.power.correction,
      bands: asked.bands ?? [],
      at: asked.at ?? [],
      accepted: asked.accept ?? [],
      options: {
        confidence: asked.confidence ?? DEFAULT_COMPARE.confidence,
        rate: asked.rate ?? DEFAULT_COMPARE.rate,
      },
      stop: asked.stop,
      load: asked.stop ?? 100,
      loadAxis: 'throttle',
      target: jobTarget(job),
    },
  }
}

/** What of a set is compared at a stop, and at a setting of the spark where one is asked for. */
function sideOf(
  { job: own, set, runs: all }: StoredSet,
  job: Job,
  request: CompareRequest,
  several: boolean,
  setting: number | null,
): SideAsked {
  const runs = all.filter((run) => run.set === set.id && !isLeftOut(run))
  const here = set.figures ? [] : runsAt(runs, request.stop, setting)
  const isOther = own.id !== job.id
  const withinOne = request.first.length === 1 && request.first[0] === request.second
  return {
    name: sideName(isOther && !several ? `${own.title}: ${set.name}` : set.name, setting, withinOne),
    machine: own.id,
    setFacts: set,
    runs: here,
    besides: set.figures ? [] : besidesOf(runs, request, setting),
    facts: here.map((run) => run.facts),
    curve: {
      ...DEFAULT_CURVE,
      smoothing: request.smoothing ?? job.power.smoothing,
      lag: job.mixture.lagMs === null ? DEFAULT_CURVE.lag : job.mixture.lagMs / 1000,
      drum: { inertia: set.inertia, window: set.drumWindow },
      source: set.torqueSource,
    },
    figures: set.figures,
    cylinders: own.machine?.cylinders ?? null,
  }
}

/** How a side is called: by its setting alone where both are of one set. */
function sideName(set: string, setting: number | null, isOneSet: boolean): string {
  const degrees = setting === null ? '' : `${plain(setting, 1)}°`
  return isOneSet && degrees ? degrees : [set, degrees].filter(Boolean).join(', ')
}

/** Groups of repeats beside those compared: at the nearest stops below and above, and at other settings of the spark. */
function besidesOf(runs: readonly RunInfo[], { stop }: CompareRequest, setting: number | null): Group[] {
  if (stop === null) return []
  const others = stopsOf(runs, comparedOfRun).flatMap((one) =>
    one.stop === null || isSameStop(one.stop, stop) ? [] : [one],
  )
  const below = others.find((one) => one.stop! < stop)
  const above = others.filter((one) => one.stop! > stop).at(-1)
  const settings =
    setting === null
      ? []
      : settingsOfSweeps(runsAt(runs, stop, null)).filter((one) => Math.abs(one.advance - setting) > SAME_SETTING)
  // Runs at another stop were made at several settings, too.
  const groups = [below, above].flatMap((one) => (one ? groupsOf(one) : []))
  return [...groups, ...settings.map((one) => ({ stop, runs: one.runs }))]
}

/** Runs of a stop by their setting of the spark, where there are several. */
function groupsOf({ stop, runs }: Group): Group[] {
  const settings = settingsOfSweeps(runs)
  return settings.length > 1 ? settings.map((one) => ({ stop, runs: one.runs })) : [{ stop, runs }]
}

/** Degrees within which sweeps were made at the setting asked for. */
const SAME_SETTING = 0.35

/** Runs made at a throttle stop, by the nearest stop there is, and at a setting of the spark where one is asked for. */
function runsAt(runs: readonly RunInfo[], stop: number | null, setting: number | null): RunInfo[] {
  const there =
    stopsOf(runs, comparedOfRun).find((one) =>
      stop === null || one.stop === null ? stop === one.stop : isSameStop(one.stop, stop),
    )?.runs ?? []
  if (setting === null) return there
  return settingsOfSweeps(there).find((one) => Math.abs(one.advance - setting) <= SAME_SETTING)?.runs ?? []
}

/**
 * One set against another, or against several stock machines.
 *
 * @throws Refusal 'not-alike' for what was not measured alike and nobody accepts; 'nothing-to-compare'
 */
export function answerCompare({ first, second, choice }: CompareQuestion, columnsOf: ColumnsOf): ComparedAnswer {
  const laid = ({ runs, besides, ...side }: SideAsked): Side => ({
    ...side,
    runs: columnsOf(runs),
    besides: besides.map((one) => ({ stop: one.stop, runs: columnsOf(one.runs) })),
  })
  const compared = compareSides(first.map(laid), laid(second), choice)
  const { refused } = compared
  if (refused.length)
    throw new Refusal(
      'not-alike',
      refused.map((one) => one.message).join(' ') + ' Accept it to compare all the same.',
      refused.map(({ what, message }) => ({ field: `accept: ${what}`, message })),
      { refused },
    )
  return answer(compared)
}

function answer({ first, second, gainBegins, ...compared }: ComparedSides): ComparedAnswer {
  return {
    ...compared,
    first: sideAnswer(first),
    second: sideAnswer(second),
    gainBegins: gainBegins && gainBegins.rpm,
    gainBeginsWithin: gainBegins && gainBegins.low !== null ? [gainBegins.low, gainBegins.high!] : null,
  } as unknown as ComparedAnswer
}

const known = (values: Float32Array): (number | null)[] =>
  Array.from(values, (value) => (value === value ? value : null))

function sideAnswer({ spread, misfires, ...side }: SideFacts) {
  return {
    ...side,
    misfires: misfires.map(({ fromRpm, toRpm }) => ({ fromRpm, toRpm })),
    spread: spread && {
      mean: known(spread.mean),
      low: known(spread.low),
      high: known(spread.high),
      runs: [...spread.runs],
    },
  }
}

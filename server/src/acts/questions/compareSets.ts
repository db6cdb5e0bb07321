import {
  isSameStop,
  Refusal,
  inputRefused,
  jobTarget,
  DEFAULT_COMPARE,
  DEFAULT_CURVE,
  isLeftOut,
  settingsOfSweeps,
  comparedOfRun,
  stopsOf,
  type ComparedAnswer,
  type ComparedSides,
  type CompareRequest,
  type Job,
  type RunInfo,
  type RunSet,
  type Side,
  type SideFacts,
  type Stop,
  plain,
} from '@yuzumix/core'
import { loadColumns } from '../../store/columns'
import { listRuns } from '../../store/runs'
import { findSet } from '../../store/sets'
import { findJob } from '../../store/jobs'
import type { Workshop } from './ask'

/** Sets that were not measured alike, until somebody accepts it. */
const notAlike = (refused: ComparedSides['refused']): Refusal =>
  new Refusal(
    'not-alike',
    refused.map((one) => one.message).join(' ') + ' Accept it to compare all the same.',
    refused.map(({ what, message }) => ({ field: `accept: ${what}`, message })),
    { refused },
  )

async function setOf(workshop: Workshop, id: string, field: string): Promise<RunSet> {
  const set = await findSet(workshop.store, id)
  if (!set) throw inputRefused([{ field, message: `there is no set ${id.slice(0, 40)}` }])
  return set
}

/** Runs of a set at a stop, with their columns. */
async function sideOf(
  workshop: Workshop,
  set: RunSet,
  job: Job,
  request: CompareRequest,
  several: boolean,
  setting: number | null = null,
): Promise<Side> {
  const withinOne = request.first.length === 1 && request.first[0] === request.second

  const { store } = workshop
  const runs = (await listRuns(store, set.job)).filter((run) => run.set === set.id && !isLeftOut(run))
  const here: RunInfo[] = set.figures ? [] : runsAt(runs, request.stop, setting)
  const other = set.job === job.id ? null : await findJob(store, set.job)
  return {
    name: sideName(other && !several ? `${other.title}: ${set.name}` : set.name, setting, withinOne),
    machine: set.job,
    setFacts: set,
    runs: await loadColumns(store, here, 'curves'),
    besides: await Promise.all(
      (set.figures ? [] : besidesOf(runs, request, setting)).map(async ({ stop, runs: group }) => ({
        stop,
        runs: await loadColumns(store, group, 'curves'),
      })),
    ),
    facts: here.map((run) => run.facts),
    curve: {
      ...DEFAULT_CURVE,
      smoothing: request.smoothing ?? job.power.smoothing,
      lag: job.mixture.lagMs === null ? DEFAULT_CURVE.lag : job.mixture.lagMs / 1000,
      drum: { inertia: set.inertia, window: set.drumWindow },
      source: set.torqueSource,
    },
    figures: set.figures,
    cylinders: (other ?? job).machine?.cylinders ?? null,
  }
}

/** How a side is called: by its setting alone where both are of one set. */
function sideName(set: string, setting: number | null, isOneSet: boolean): string {
  const degrees = setting === null ? '' : `${plain(setting, 1)}°`
  return isOneSet && degrees ? degrees : [set, degrees].filter(Boolean).join(', ')
}

/** Some repeats at a stop. */
type Group = Pick<Stop<RunInfo>, 'stop' | 'runs'>

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

function answer({ first, second, gainBegins, ...compared }: ComparedSides): ComparedAnswer {
  return {
    ...compared,
    first: sideAnswer(first),
    second: sideAnswer(second),
    gainBegins: gainBegins && gainBegins.rpm,
    gainBeginsWithin: gainBegins && gainBegins.low !== null ? [gainBegins.low, gainBegins.high!] : null,
  } as unknown as ComparedAnswer
}

/**
 * One set against another, or against several stock machines, as a request asks.
 *
 * @throws Refusal 'input-refused' for sets that are not there; NotAlike; CompareError when there is nothing to compare
 */
export async function compareSets(
  workshop: Workshop,
  job: Job,
  asked: CompareRequest,
  signal: AbortSignal,
): Promise<ComparedAnswer> {
  const { first: from = null, second: to = null } = asked.settings ?? {}
  if (asked.first.includes(asked.second) && from === to)
    throw inputRefused([{ field: 'second', message: 'is also the first: choose two different sets' }])
  const several = asked.first.length > 1
  const sets = await Promise.all(asked.first.map((id, k) => setOf(workshop, id, `first[${k}]`)))
  const first = await Promise.all(sets.map((set) => sideOf(workshop, set, job, asked, several, from)))
  if (several && sets.some((set) => set.figures))
    throw inputRefused([
      { field: 'first', message: 'entered figures stand for several machines already: choose them alone' },
    ])
  const second = await sideOf(workshop, await setOf(workshop, asked.second, 'second'), job, asked, false, to)
  const compared = await workshop.pool.compare(
    {
      first,
      second,
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
    },
    signal,
  )
  if (compared.refused.length) throw notAlike(compared.refused)
  return answer(compared)
}

import {
  isRefusal,
  unlessRefused,
  fieldRuns,
  figureFrom,
  flatnessAnswer,
  fuelTables,
  grouped,
  isLeftOut,
  madeOnNewest,
  sweepsOfRun,
  type Answered,
  type ComparedAnswer,
  type Figure,
  type ReportPower,
  type ReportState,
  type CompareRequest,
  type Job,
  type Report,
  type RunFacts,
  type RunInfo,
  type RunSet,
  type TableInfo,
} from '@yuzumix/core'
import { listRuns } from '../../store/runs'
import { listSets } from '../../store/sets'
import { compareSets } from '../questions/compareSets'
import { listTables } from '../../store/tables'
import { fieldFor, type Workshop } from '../questions/ask'

/** What runs before and after show. */
export interface Sides {
  before: RunSet | null
  after: RunSet | null
  /** all that have runs, oldest first */
  sets: RunSet[]
  runsOf(set: RunSet): RunInfo[]
  /** fuel tables, by which passes of a set are told apart */
  tables: TableInfo[]
}

export const tells = (run: RunInfo, channels: readonly string[]): boolean =>
  run.channels.some((one) => channels.includes(one.channel))

/** First and last set of the job that have runs; of one state of its parts, where that is asked for. */
export async function sidesOf({ store }: Workshop, job: Job, state: string | null): Promise<Sides> {
  const [all, runs, tables] = await Promise.all([
    listSets(store, job.id),
    listRuns(store, job.id),
    listTables(store, job.id),
  ])
  const kept = runs.filter((run) => !isLeftOut(run))
  const runsOf = (set: RunSet): RunInfo[] => kept.filter((run) => run.set === set.id)
  const sets = all.filter((set) => runsOf(set).length > 0 && (state === null || set.setup.includes(state)))
  const after = sets.length > 1 ? sets.at(-1)! : null
  return { before: sets[0] ?? null, after, sets, runsOf, tables: fuelTables(tables) }
}

/** Steps of rpm that bands of gains are cut at. */
const BAND_STEP = 500
const BANDS = 3

/** Sets that cannot be compared, or not without a word. */
const cannotCompare = (error: unknown): boolean => isRefusal(error, 'nothing-to-compare', 'not-alike')

/** Facts of a run's sweeps whose throttle is known. */
const sweptAt = ({ kind, facts }: RunInfo): RunFacts[] =>
  facts ? sweepsOfRun(kind, facts).flatMap((one) => (one.facts.stop === null ? [] : [one.facts])) : []

/** The rpm that both sides reached, in three bands. */
function bandsOf(runs: readonly RunInfo[][]): { fromRpm: number; toRpm: number }[] {
  const spans = runs.map((side) => side.flatMap(sweptAt))
  if (spans.some((side) => side.length === 0)) return []
  const round = (rpm: number): number => Math.round(rpm / BAND_STEP) * BAND_STEP
  const from = round(Math.max(...spans.map((side) => Math.min(...side.map((one) => one.fromRpm)))))
  const to = round(Math.min(...spans.map((side) => Math.max(...side.map((one) => one.toRpm)))))
  const width = Math.floor((to - from) / BANDS / BAND_STEP) * BAND_STEP
  if (width < BAND_STEP) return []
  return Array.from({ length: BANDS }, (_, k) => ({
    fromRpm: from + k * width,
    toRpm: k === BANDS - 1 ? to : from + (k + 1) * width,
  }))
}

const UNITS = { power: 'kW', torque: 'N·m' } as const
/** States whose curves are drawn beside each other at the most. */
const MOST_STATES = 6

const tellsTorque = (runs: readonly RunInfo[]): boolean => runs.some((run) => tells(run, ['torque', 'power', 'drum']))

/** Curve and band of a side, where it has them. */
function stateOf(answer: ComparedAnswer, side: 'first' | 'second'): ReportState[] {
  const { name, runs, spread } = answer[side]
  if (!spread) return []
  const { mean, low, high } = spread
  return [{ name, runs, rpm: answer.comparison.rpm, mean, low, high }]
}

/** Holes in the torque of the first state and of the last, where they were compared. */
export interface HolesKnown {
  first: ComparedAnswer['first']['holes']
  last: ComparedAnswer['second']['holes']
}
const NO_HOLES: HolesKnown = { first: [], last: [] }

/** Power, or torque, before and after as the report tells it, and the holes in the torque after. */
export async function powerOf(
  workshop: Workshop,
  job: Job,
  sides: Sides,
  quantity: keyof typeof UNITS,
  signal: AbortSignal,
): Promise<{ power: ReportPower | null; holes: HolesKnown }> {
  const { before, after, runsOf } = sides
  if (!before || !after) return { power: null, holes: NO_HOLES }
  const pair = [runsOf(before), runsOf(after)]
  if (!pair.every(tellsTorque)) return { power: null, holes: NO_HOLES }
  const stops = pair.map((runs) => runs.flatMap((run) => sweptAt(run).map((one) => one.stop)))
  const stop = stops.every((side) => side.length > 0) ? 100 : null
  const wide = pair.map((runs) => runs.filter((run) => stop === null || sweptAt(run).some((one) => one.stop! > 90)))
  const body: CompareRequest = { first: [before.id], second: after.id, stop, quantity, bands: bandsOf(wide) }
  const unit = UNITS[quantity]
  const names = { before: before.name, after: after.name, quantity, unit, stop }
  const blank = { ...names, rpm: [], first: [], second: [], real: [], gains: [] }
  try {
    const answer = await compareSets(workshop, job, body, signal)
    const source: Answered = { method: 'POST', path: `/jobs/${job.id}/compare`, body, answer }
    const { rpm, first, second, real } = answer.comparison
    const gains = answer.gains.flatMap((gain, k) => {
      const figure = figureFrom(source, `/gains/${k}/difference`, unit, {
        low: `/gains/${k}/low`,
        high: `/gains/${k}/high`,
      })
      const where = gain.band ? `mean from ${grouped(gain.band.fromRpm)} to ${grouped(gain.band.toRpm)} rpm` : gain.what
      return figure && gain.what !== 'area over a band' ? [{ name: where, figure }] : []
    })
    const refused = answer.mismatches.map((one) => one.message)
    const between = sides.sets
      .filter((one) => one !== before && one !== after && tellsTorque(runsOf(one)))
      .slice(2 - MOST_STATES)
    const others = await Promise.all(
      between.map((set) =>
        compareSets(workshop, job, { ...body, second: set.id, bands: [] }, signal).catch((error: unknown) => {
          if (cannotCompare(error)) return null
          throw error
        }),
      ),
    )
    const states = [
      ...stateOf(answer, 'first'),
      ...others.flatMap((one) => (one ? stateOf(one, 'second') : [])),
      ...stateOf(answer, 'second'),
    ]
    return {
      power: { ...names, rpm, first, second, real, gains, states, refused },
      holes: { first: answer.first.holes, last: answer.second.holes },
    }
  } catch (error) {
    if (cannotCompare(error)) return { power: { ...blank, refused: [(error as Error).message] }, holes: NO_HOLES }
    throw error
  }
}

/** Runs of a set that tell the mixture as the set left it: on the newest tables any of them was made on. */
export const mixtureRuns = ({ mixture }: Job, sides: Sides, set: RunSet): RunInfo[] =>
  madeOnNewest(fieldRuns(mixture, set.id, sides.runsOf(set)), sides.tables).runs

export async function mixtureOf(
  workshop: Workshop,
  job: Job,
  sides: Sides,
  set: RunSet | null,
  signal: AbortSignal,
): Promise<Report['mixture']['before']> {
  const runs = set ? mixtureRuns(job, sides, set) : []
  const off = set && (await offTarget(workshop, job, runs, signal))
  return off ? { set: set.name, runs: runs.length, ...off } : null
}

/** How far some runs are off target, typically and at worst; null where they do not tell. */
export async function offTarget(
  workshop: Workshop,
  job: Job,
  runs: readonly RunInfo[],
  signal: AbortSignal,
): Promise<{ typical: Figure; worst: Figure | null; at: string } | null> {
  if (runs.length === 0) return null
  const body = { runs: runs.map((run) => run.id) }
  const field = await unlessRefused(() => fieldFor(workshop, job, body, signal), 'no-field')
  if (!field) return null
  const answer = flatnessAnswer(field)
  const source: Answered = { method: 'POST', path: `/jobs/${job.id}/flatness`, body, answer }
  const typical = figureFrom(source, '/rmsPct', '%')
  if (!typical) return null
  const { worst } = answer
  return {
    typical,
    worst: figureFrom(source, '/worst/pct', '%', { low: '/worst/low', high: '/worst/high' }),
    at: worst ? `${grouped(worst.rpm)} rpm and load ${worst.load}` : '',
  }
}

import {
  CompareError,
  correctionById,
  DEFAULT_PLAN,
  doneRuns,
  FieldError,
  fieldAnswer,
  figureFrom,
  findingOf,
  fuelById,
  grouped,
  isLeftOut,
  makePlan,
  movedByZone,
  planFor,
  reportCautions,
  restoredStock,
  tickPlan,
  underCeiling,
  type Answered,
  type ComparedAnswer,
  type CompareRequest,
  type FieldAnswer,
  type Job,
  type Report,
  type RunInfo,
  type RunSet,
} from '@yuzumix/core'
import { readChannel } from '../store/columns'
import { toFloats } from '../store/floats'
import { listRuns } from '../store/runs'
import { listSets } from '../store/sets'
import { findRevision, listTables } from '../store/tables'
import { compareSets } from './compareSets'
import { listComplaints } from './complaints'
import { fieldFor, type Workshop } from './fieldFor'
import { flatnessFor } from './flatnessFor'
import { listPutBack } from './putBack'

/** What runs before and after show. */
interface Sides {
  before: RunSet | null
  after: RunSet | null
  runsOf(set: RunSet): RunInfo[]
}

const tells = (run: RunInfo, channels: readonly string[]): boolean =>
  run.channels.some((one) => channels.includes(one.channel))

/** First and last set of the job that have runs; of one state of its parts, where that is asked for. */
async function sidesOf({ store }: Workshop, job: Job, state: string | null): Promise<Sides> {
  const [all, runs] = await Promise.all([listSets(store, job.id), listRuns(store, job.id)])
  const kept = runs.filter((run) => !isLeftOut(run))
  const runsOf = (set: RunSet): RunInfo[] => kept.filter((run) => run.set === set.id)
  const sets = all.filter((set) => runsOf(set).length > 0 && (state === null || set.setup.includes(state)))
  return { before: sets[0] ?? null, after: sets.length > 1 ? sets.at(-1)! : null, runsOf }
}

/** Steps of rpm that bands of gains are cut at. */
const BAND_STEP = 500
const BANDS = 3

/** The rpm that both sides reached, in three bands. */
function bandsOf(runs: readonly RunInfo[][]): { fromRpm: number; toRpm: number }[] {
  const spans = runs.map((side) => side.flatMap((run) => (run.facts?.stop != null ? [run.facts] : [])))
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

/** Power before and after as the report tells it, and the holes in the torque after. */
async function powerOf(
  workshop: Workshop,
  job: Job,
  sides: Sides,
  signal: AbortSignal,
): Promise<{ power: Report['power']; holes: ComparedAnswer['second']['holes'] }> {
  const { before, after, runsOf } = sides
  if (!before || !after) return { power: null, holes: [] }
  const pair = [runsOf(before), runsOf(after)]
  if (pair.some((runs) => !runs.some((run) => tells(run, ['torque', 'power', 'drum']))))
    return { power: null, holes: [] }
  const stops = pair.map((runs) => runs.flatMap((run) => run.facts?.stop ?? []))
  const stop = stops.every((side) => side.length > 0) ? 100 : null
  const wide = pair.map((runs) => runs.filter((run) => stop === null || (run.facts?.stop ?? 0) > 90))
  const body: CompareRequest = { first: [before.id], second: after.id, stop, quantity: 'power', bands: bandsOf(wide) }
  const names = { before: before.name, after: after.name, quantity: 'power', unit: 'kW', stop }
  const blank = { ...names, rpm: [], first: [], second: [], real: [], gains: [] }
  try {
    const answer = await compareSets(workshop, job, body, signal)
    const source: Answered = { method: 'POST', path: `/jobs/${job.id}/compare`, body, answer }
    const { rpm, first, second, real } = answer.comparison
    const gains = answer.gains.flatMap((gain, k) => {
      const figure = figureFrom(source, `/gains/${k}/difference`, 'kW', {
        low: `/gains/${k}/low`,
        high: `/gains/${k}/high`,
      })
      const where = gain.band ? `mean from ${grouped(gain.band.fromRpm)} to ${grouped(gain.band.toRpm)} rpm` : gain.what
      return figure && gain.what !== 'area over a band' ? [{ name: where, figure }] : []
    })
    const refused = answer.mismatches.map((one) => one.message)
    return { power: { ...names, rpm, first, second, real, gains, refused }, holes: answer.second.holes }
  } catch (error) {
    if (error instanceof CompareError || (error as { status?: number }).status === 422)
      return { power: { ...blank, refused: [(error as Error).message] }, holes: [] }
    throw error
  }
}

/** Runs of a set that tell the mixture. */
const mixtureRuns = (sides: Sides, set: RunSet): RunInfo[] =>
  sides.runsOf(set).filter((run) => tells(run, ['lambda1']) && run.kind !== 'mixture step' && run.kind !== 'spark step')

async function mixtureOf(
  workshop: Workshop,
  job: Job,
  sides: Sides,
  set: RunSet | null,
  signal: AbortSignal,
): Promise<Report['mixture']['before']> {
  const runs = set ? mixtureRuns(sides, set) : []
  if (!set || runs.length === 0) return null
  const body = { runs: runs.map((run) => run.id) }
  try {
    const answer = await flatnessFor(workshop, job, body, signal)
    const source: Answered = { method: 'POST', path: `/jobs/${job.id}/flatness`, body, answer }
    const typical = figureFrom(source, '/rmsPct', '%')
    if (!typical) return null
    const { worst } = answer
    return {
      set: set.name,
      runs: runs.length,
      typical,
      worst: figureFrom(source, '/worst/pct', '%', { low: '/worst/low', high: '/worst/high' }),
      at: worst ? `${grouped(worst.rpm)} rpm and load ${worst.load}` : '',
    }
  } catch (error) {
    if (error instanceof FieldError) return null
    throw error
  }
}

async function changesOf({ store }: Workshop, job: Job): Promise<Report['changes']> {
  const tables = await listTables(store, job.id)
  const lines = await Promise.all(
    tables.map(async (info) => {
      const last = info.revisions.at(-1)!
      const first = last.n > 1 ? await findRevision(store, job.id, info.id, 1) : null
      if (!first) return []
      const answer = movedByZone(first.table, info.table)
      const source: Answered = { method: 'GET', path: `/jobs/${job.id}/tables/${info.id}/moved`, body: null, answer }
      return answer.zones.map(({ zone }, k) => ({
        table: info.name,
        zone,
        largest: figureFrom(source, `/zones/${k}/largest`, answer.unit)!,
        typical: figureFrom(source, `/zones/${k}/typical`, answer.unit)!,
        why: last.reason,
      }))
    }),
  )
  return lines.flat()
}

/** Mean long trim over the runs of a set, %; null where none was logged. */
async function longTrimOf({ store }: Workshop, runs: readonly RunInfo[]): Promise<number | null> {
  let [sum, count] = [0, 0]
  for (const run of runs.filter((one) => tells(one, ['trimLong']))) {
    const values = toFloats((await readChannel(store, run.id, 'trimLong'))!)
    for (const value of values) if (value === value) [sum, count] = [sum + value, count + 1]
  }
  return count ? sum / count : null
}

/** The field of the newest runs, as answered; null when nothing can be estimated. */
async function lastField(workshop: Workshop, job: Job, sides: Sides, signal: AbortSignal): Promise<FieldAnswer | null> {
  const set = sides.after ?? sides.before
  const runs = set ? mixtureRuns(sides, set) : []
  if (runs.length === 0) return null
  try {
    return fieldAnswer(await fieldFor(workshop, job, runs, {}, null, signal))
  } catch (error) {
    if (error instanceof FieldError) return null
    throw error
  }
}

const weatherWords = (set: RunSet | null, runs: readonly RunInfo[]): string => {
  const weather = set?.weather ?? runs.find((run) => run.facts?.weather)?.facts?.weather
  return weather
    ? `${weather.temperatureC} °C, ${weather.pressureKpa} kPa, ${weather.humidityPct} % humidity`
    : 'not noted'
}

/**
 * The report of a job as it stands. Every figure is taken out of an answer of the HTTP interface, unrounded; what is
 * missing is named, and the rest is told.
 *
 * @param state state of a two-state part that it is to speak of; null for the whole job
 */
export async function reportFor(
  workshop: Workshop,
  job: Job,
  state: string | null,
  signal: AbortSignal,
): Promise<Report> {
  const sides = await sidesOf(workshop, job, state)
  const { before, after, runsOf } = sides
  const [{ power, holes }, mixtureBefore, mixtureAfter, changes, complaints, putBack, field, sets, runs] =
    await Promise.all([
      powerOf(workshop, job, sides, signal),
      mixtureOf(workshop, job, sides, before, signal),
      mixtureOf(workshop, job, sides, after, signal),
      changesOf(workshop, job),
      listComplaints(workshop.store, job.id),
      listPutBack(workshop.store, job.id),
      lastField(workshop, job, sides, signal),
      listSets(workshop.store, job.id),
      listRuns(workshop.store, job.id),
    ])
  const last = after ?? before
  const trims = {
    before: before && (await longTrimOf(workshop, runsOf(before))),
    after: after && (await longTrimOf(workshop, runsOf(after))),
  }
  const plan = makePlan(underCeiling(job.plan ?? planFor(DEFAULT_PLAN, runs), job.limits?.revCeiling))
  const ticks = tickPlan(plan.steps, doneRuns(runs, sets, last?.id ?? null))
  const left = plan.steps.flatMap((step, k) =>
    ticks[k]!.left > 0
      ? [
          `${step.kind} at ${step.stop} %, ${grouped(step.fromRpm)} to ${grouped(step.toRpm)} rpm: ${ticks[k]!.left} of ${step.repeats} missing`,
        ]
      : [],
  )
  const ceiling = job.limits?.revCeiling ?? Infinity
  const unmeasured = field
    ? field.load.flatMap((load, row) =>
        field.rpm.flatMap((rpm, column) =>
          rpm <= ceiling && field.cylinders.every((one) => one.lambda[row]![column] === null) ? [{ rpm, load }] : [],
        ),
      )
    : []
  const found = complaints.map((one) => ({ complaint: one, finding: findingOf(one, field, holes) }))
  const named = (one: { word: string; text?: string | undefined }): string =>
    [one.word, one.text].filter(Boolean).join(': ')
  return {
    n: null,
    at: new Date().toISOString(),
    job: job.id,
    title: job.title,
    state,
    machine: job.machine,
    fuel:
      [
        job.fuelSold?.grade,
        job.fuel && (fuelById(job.fuel.id)?.name ?? `blend, stoichiometric at ${job.fuel.stoichAfr}`),
        !job.fuel && job.fuelSold?.ethanolPct != null && `${job.fuelSold.ethanolPct} % ethanol`,
      ]
        .filter(Boolean)
        .join(', ') || 'not said',
    fitted: job.fitted ?? '',
    changed: job.changed,
    by: job.tuner ?? '',
    rig:
      [last?.rig, last?.sensorPlace && `probe in the ${last.sensorPlace}`, last?.gear && `gear ${last.gear}`]
        .filter(Boolean)
        .join(', ') || 'not said',
    weather: last ? weatherWords(last, runsOf(last)) : 'not noted',
    correction: `Power by ${correctionById(job.power.correction).name}, smoothed over ${grouped(job.power.smoothing)} rpm to either side`,
    limits: [
      ...(job.limits?.revCeiling
        ? [`Not run beyond ${job.limits.revCeiling} rpm${job.limits.revReason ? `: ${job.limits.revReason}` : ''}`]
        : []),
      ...(job.limits?.weakPump ? ['The fuel pump is doubted'] : []),
      ...(job.limits?.softTyre ? ['Soft tyre: runs were kept short'] : []),
      ...(job.limits?.licensed ? ['Licensed work: read and recorded only'] : []),
    ],
    power,
    mixture: { before: mixtureBefore, after: mixtureAfter },
    changes,
    complaints: found.map(({ complaint, finding }) => ({ complaint, said: finding.said })),
    putBack,
    notMeasured: {
      cells: unmeasured,
      complaints: found
        .filter(({ finding }) => finding.found === 'nothing measured')
        .map(({ complaint }) => named(complaint)),
      runs: [
        ...(before ? [] : ['no runs before']),
        ...(after ? [] : ['no runs after: nothing is told of before against after']),
        ...(power || !after ? [] : ['no torque, power or drum speed in both sets: no curves']),
        ...left,
      ],
    },
    cautions: [...(before && after ? restoredStock(before, after, sets, trims) : []), ...reportCautions(job)],
    lookAgain: 'After 500 km, and whenever exhaust, intake or the fuel sold changes: three check runs tell.',
  }
}

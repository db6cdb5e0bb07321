import {
  unlessRefused,
  reportCautions,
  complaintName,
  counted,
  fieldAnswer,
  figureFrom,
  fuelById,
  grouped,
  changedByZone,
  openGateWords,
  planOf,
  restoredStock,
  type Answered,
  type Field,
  type FieldAnswer,
  type Job,
  type Report,
  type RigLine,
  type RunInfo,
  type RunSet,
} from '@yuzumix/core'
import { readChannel } from '../../store/columns'
import { toFloats } from '../../store/floats'
import { listRuns } from '../../store/runs'
import { listSets } from '../../store/sets'
import { listTables } from '../../store/tables'
import { findRevision } from '../../store/revisions'
import { listComplaints } from '../handling/complaints'
import { complaintFindings } from './complaintFindings'
import { fieldFor, type Workshop } from '../questions/ask'
import { findingsFor } from './findingsFor'
import { listPutBack } from '../handling/putBack'
import { recordOf } from './reportRecord'
import { listRig } from '../handling/rigLines'
import { mixtureOf, mixtureRuns, powerOf, sidesOf, tells, type Sides } from './reportSides'
import { weatherOf, correctionWords, wantedOf, probeWords } from './jobWords'

async function changesOf({ store }: Workshop, job: Job): Promise<Report['changes']> {
  const tables = await listTables(store, job.id)
  const lines = await Promise.all(
    tables.map(async (info) => {
      const last = info.revisions.at(-1)!
      const first = last.n > 1 ? await findRevision(store, job.id, info.id, 1) : null
      if (!first) return []
      const answer = changedByZone(first.table, info.table)
      const source: Answered = { method: 'GET', path: `/jobs/${job.id}/tables/${info.id}/moved`, body: null, answer }
      return answer.zones.map(({ zone }, k) => ({
        table: info.name,
        zone,
        largest: figureFrom(source, `/zones/${k}/largest`, answer.unit)!,
        typical: figureFrom(source, `/zones/${k}/typical`, answer.unit)!,
        why: `${counted(last.n - 1, 'revision')}, in the record`,
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

/** The field of a set as it left it; null when nothing can be estimated. */
async function fieldOf(
  workshop: Workshop,
  job: Job,
  sides: Sides,
  set: RunSet | null,
  signal: AbortSignal,
): Promise<Field | null> {
  if (!set || mixtureRuns(job, sides, set).length === 0) return null
  return unlessRefused(() => fieldFor(workshop, job, { set: set.id }, signal), 'no-field')
}

/** What the rig list left open, as a caution. */
const openGateWordsOf = (rig: readonly RigLine[]): string[] => [openGateWords(rig)].filter(Boolean)

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
  const [
    { power, holes },
    { power: torque },
    mixtureBefore,
    mixtureAfter,
    changes,
    complaints,
    putBack,
    lastOne,
    sets,
    runs,
    rig,
  ] = await Promise.all([
    powerOf(workshop, job, sides, 'power', signal),
    powerOf(workshop, job, sides, 'torque', signal),
    mixtureOf(workshop, job, sides, before, signal),
    mixtureOf(workshop, job, sides, after, signal),
    changesOf(workshop, job),
    listComplaints(workshop.store, job.id),
    listPutBack(workshop.store, job.id),
    fieldOf(workshop, job, sides, after ?? before, signal),
    listSets(workshop.store, job.id),
    listRuns(workshop.store, job.id),
    listRig(workshop.store, job),
  ])
  const last = after ?? before
  const field: FieldAnswer | null = lastOne && fieldAnswer(lastOne)
  const findings = (await findingsFor(workshop, job, last ? runsOf(last) : [], lastOne, signal)).map((one) => one.text)
  // What the first state showed is part of the record, though the last one no longer may.
  const first = after && before
  const atFirst = first
    ? await findingsFor(workshop, job, runsOf(first), await fieldOf(workshop, job, sides, first, signal), signal)
    : []
  const earlier = atFirst.filter((one) => !findings.includes(one.text)).map((one) => `${first!.name}: ${one.text}`)
  const record = await recordOf(workshop, job, sides, { sets, runs }, signal)
  const trims = {
    before: before && (await longTrimOf(workshop, runsOf(before))),
    after: after && (await longTrimOf(workshop, runsOf(after))),
  }
  const tables = await listTables(workshop.store, job.id)
  const { plan, ticks } = planOf({ job, sets, runs, tables }, { set: last?.id ?? null })
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
  const there = new Map(
    (await complaintFindings(workshop, job, { sides, holes }, signal)).map((one) => [one.complaint, one]),
  )
  const found = complaints.map((complaint) => {
    const { then = null, now = null } = there.get(complaint.id) ?? {}
    return { complaint, then, now }
  })
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
    workshop: job.workshop ?? '',
    rider: job.rider ?? '',
    identity: job.identity ?? '',
    rig:
      [
        last?.rig,
        last?.sensorPlace && `probe in the ${last.sensorPlace}`,
        last?.gear && `gear ${last.gear}`,
        probeWords(job),
      ]
        .filter(Boolean)
        .join(', ') || 'not said',
    weather: weatherOf(sides),
    correction: `${correctionWords(job, sides)}, smoothed over ${grouped(job.power.smoothing)} rpm to either side`,
    wanted: wantedOf(field, job),
    limits: [
      ...(job.limits?.revCeiling
        ? [
            `Rev ceiling ${grouped(job.limits.revCeiling)} rpm${job.limits.revReason ? `: ${job.limits.revReason}` : ''}`,
          ]
        : []),
      ...(job.limits?.weakPump ? ['The fuel pump is doubted'] : []),
      ...(job.limits?.softTyre ? ['Soft tyre: runs are to be kept short'] : []),
      ...(job.limits?.licensed ? ['Licensed work: read and recorded only'] : []),
    ],
    power,
    torque,
    record,
    mixture: { before: mixtureBefore, after: mixtureAfter },
    findings: [...findings, ...earlier],
    changes,
    complaints: found.map(({ complaint, then, now }) => ({
      complaint,
      said: (now ?? then)?.said ?? 'Nothing was measured there.',
      state: (now ?? then)?.state ?? null,
      then: now && then,
    })),
    putBack,
    notMeasured: {
      cells: unmeasured,
      complaints: found
        .filter(({ then, now }) => ((now ?? then)?.found ?? 'nothing measured') === 'nothing measured')
        .map(({ complaint }) => complaintName(complaint)),
      runs: [
        ...(before ? [] : ['no runs before']),
        ...(after ? [] : ['no runs after: nothing is told of before against after']),
        ...(power || !after ? [] : ['no torque, power or drum speed in both sets: no curves']),
        ...left,
      ],
    },
    cautions: [
      ...openGateWordsOf(rig),
      ...(before && after ? restoredStock(before, after, sets, trims) : []),
      ...reportCautions(job),
    ],
    lookAgain: 'After 500 km, and whenever exhaust, intake or the fuel sold changes: three check runs tell.',
  }
}

import { inputRefused } from '../refusal/refusal'
import { setsPlate } from '../table/kinds'
import type { PlateRequest, ResponseRequest } from '../contract/response'
import type { RunInfo } from '../run/runInfo'
import type { TableInfo } from '../contract/table'
import { complaintSpeeds } from '../brief/complaints'
import { askPlate, type PlateAsked } from '../response/grip/askPlate'
import type { MadePlate } from '../response/grip/plateTable'
import { DEFAULT_RESPONSE, respond, type Response, type ResponseChoice } from '../response/response'
import { isLeftOut } from '../run/runColumns'
import { fieldSet, namedRuns } from './fieldRuns'
import type { ColumnsOf, JobGround } from './ground'
import { mayHaveLoop } from './mayHaveLoop'

/** What the answer of a machine to the hand is worked out from. */
export interface ResponseQuestion {
  runs: RunInfo[]
  choice: ResponseChoice
}

/** Runs that tell how a machine answers the hand: with a throttle or a grip. */
const tells = (run: RunInfo): boolean =>
  !isLeftOut(run) && run.channels.some((one) => one.channel === 'throttle' || one.channel === 'grip')

/** Those named, else those of a set, else of the field's set or the newest. */
function runsAsked({ job, sets, runs: all }: JobGround, { runs, set }: ResponseRequest): RunInfo[] {
  if (runs) return namedRuns(all, runs)
  if (set !== undefined && !sets.some((one) => one.id === set))
    throw inputRefused([{ field: 'set', message: `there is no set ${set.slice(0, 40)} in this job` }])
  const own =
    set ?? fieldSet(job.mixture, sets, all) ?? sets.findLast((one) => all.some((run) => run.set === one.id))?.id
  return all.filter((run) => run.set === own && tells(run))
}

/**
 * Puts together how a machine's answer to the hand is asked for: by which runs, and about which complaints.
 *
 * @throws Refusal 'input-refused' for a run or a set that is not there
 */
export function responseQuestion(ground: JobGround, asked: ResponseRequest = {}): ResponseQuestion {
  const { job, complaints } = ground
  const lag = asked.lagMs ?? job.mixture.lagMs
  return {
    runs: runsAsked(ground, asked),
    choice: {
      lag: lag === null ? null : lag / 1000,
      filters: { ...DEFAULT_RESPONSE.filters, ...job.mixture.filters, revCeiling: job.limits?.revCeiling ?? null },
      hasLoop: mayHaveLoop(job),
      mode: asked.mode ?? null,
      complaints: complaintSpeeds(complaints),
      top: job.limits?.revCeiling ?? DEFAULT_RESPONSE.top,
    },
  }
}

/** How the machine answers the hand. @throws Refusal 'no-plate-table' when no run tells */
export const answerResponse = ({ runs, choice }: ResponseQuestion, columnsOf: ColumnsOf): Response =>
  respond(columnsOf(runs), choice)

/** What a plate table is worked out from. */
export interface PlateQuestion {
  runs: RunInfo[]
  asked: PlateAsked
}

/**
 * Puts together how a plate table of a shape is asked for.
 *
 * @throws Refusal 'input-refused' for a run, a set or a table that is not there, and for a curve that does not rise
 */
export function plateQuestion(
  ground: JobGround,
  { shape, share, curve, table, reason, ...asked }: PlateRequest,
): PlateQuestion {
  if (shape === 'own' && !curve) throw inputRefused([{ field: 'curve', message: 'is needed for a curve of your own' }])
  curve?.forEach((point, k) => {
    const before = curve[k - 1]
    if (before && !(point[0]! > before[0]! && point[1]! >= before[1]!))
      throw inputRefused([
        { field: `curve[${k}]`, message: 'must lie further on in grip, and not lower, than the point before' },
      ])
  })
  const plates = ground.tables.filter((one) => setsPlate(one.table))
  const own = plates.find((one) => one.id === table)
  if (table !== undefined && !own)
    throw inputRefused([{ field: 'table', message: 'there is no such plate table in this job' }])
  const values = ({ table: { load, rpm, values: cells } }: TableInfo) => ({ grip: load, rpm, values: cells })
  return {
    runs: runsAsked(ground, asked),
    asked: {
      wish: { shape, ...(share !== undefined && { share }), ...(curve && { curve: curve as [number, number][] }) },
      mode: asked.mode ?? null,
      now: own ? values(own) : null,
      others: plates.filter((one) => one !== own).map((one) => ({ name: one.name, table: values(one) })),
      reason: reason ?? null,
    },
  }
}

/** A plate table of a shape. @throws Refusal 'no-plate-table' when there is nothing to start from */
export const answerPlate = ({ runs, asked }: PlateQuestion, columnsOf: ColumnsOf): MadePlate =>
  askPlate(columnsOf(runs), asked)

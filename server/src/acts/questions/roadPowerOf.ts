import {
  cropped,
  inputRefused,
  namedRuns,
  refused,
  roadPower,
  type Job,
  type RoadColumns,
  type RoadPowerRequest,
  type RunInfo,
} from '@yuzumix/core'
import type { Store } from '../../store/database'
import { listRuns } from '../../store/runs'
import { readAsTold } from '../jobs/readAsTold'

const NEEDED = ['time', 'rpm', 'throttle', 'speed'] as const

/** Columns of a run, or those of its rows that lie in the stretch asked for. */
function rowsOf(columns: ReadonlyMap<string, Float32Array>, { id, part, without }: RunInfo): RoadColumns {
  const [time, rpm, throttle, speed] = NEEDED.map((channel) => columns.get(channel)!)
  const altitude = columns.get('altitude')
  const whole: RoadColumns = { id, time: time!, rpm: rpm!, throttle: throttle!, speed: speed!, altitude, without }
  return part ? cropped(whole, part) : whole
}

const CAUTION =
  'Figures of the road: slope, wind, slip and the warmth of the drive are in them. Compare them with each other, never with a drum. Pull only where it is allowed and the road is free.'

/**
 * Torque from acceleration on the road.
 *
 * @throws Refusal 'input-refused' for a run that is not there or tells no road speed, 'no-field' where there is no pull
 */
export async function roadPowerOf(store: Store, job: Job, asked: RoadPowerRequest): Promise<object> {
  const runs = namedRuns(await listRuns(store, job.id), asked.runs)
  const lacking = runs.flatMap((run) => {
    const missing = NEEDED.filter((one) => !run.channels.some(({ channel }) => channel === one))
    return missing.length ? [{ field: 'runs', message: `"${run.name}" has no ${missing.join(', no ')}` }] : []
  })
  if (lacking.length) throw inputRefused(lacking)
  const columns = await Promise.all(
    runs.map(async (run) =>
      rowsOf(await readAsTold(store, { ...run, id: run.part?.of ?? run.id }, [...NEEDED, 'altitude']), run),
    ),
  )
  const { massKg, rotatingMassKg = 0, tyreCircumferenceM } = asked
  const told = roadPower(columns, { massKg, rotatingMassKg })
  if (!told)
    throw refused(
      'no-field',
      'No pull was found: one gear, wide open, from low to high speed, with the road speed beside it.',
      'runs',
    )
  const { ratios, ...figures } = told
  return {
    ...figures,
    confidence: 0.9,
    engineTurnsPerWheelTurn: tyreCircumferenceM ? ratios.map((one) => tyreCircumferenceM / (60 * one)) : [],
    caution: CAUTION,
  }
}

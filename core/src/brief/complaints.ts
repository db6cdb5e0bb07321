import { LOAD_UNITS } from '../table/table'
import type { MachineLimits } from '../contract/brief'
import type { ComplaintChange, NewComplaint } from '../contract/complaint'
import type { FieldFault } from '../refusal/refusal'
import type { FieldAnswer } from '../contract/field'
import { grouped, plain } from '../numbers/format'

/** rpm that nothing is entered beyond, where a job names no ceiling. */
const HIGHEST_RPM = 30_000

/**
 * What is wrong with where a complaint is pinned.
 *
 * @returns faults by field: outside 0 to the rev ceiling or 0 to 100 % of throttle, or ends the wrong way round
 */
export function placeFaults(
  place: Pick<NewComplaint | ComplaintChange, 'fromRpm' | 'toRpm' | 'fromThrottle' | 'toThrottle'>,
  limits: MachineLimits | undefined,
): FieldFault[] {
  const ceiling = limits?.revCeiling ?? HIGHEST_RPM
  const span = (
    from: 'fromRpm' | 'fromThrottle',
    to: 'toRpm' | 'toThrottle',
    most: number,
    unit: string,
  ): FieldFault[] => {
    const ends = [from, to].flatMap((field) => {
      const value = place[field as 'fromRpm']
      return value != null && !(value >= 0 && value <= most)
        ? [{ field, message: `must be between 0 and ${most}${unit}` }]
        : []
    })
    const [low, high] = [place[from], place[to]]
    return low != null && high != null && low > high
      ? [...ends, { field: to, message: `must not be below ${from}` }]
      : ends
  }
  return [
    ...span('fromRpm', 'toRpm', ceiling, ' rpm, the rev ceiling'),
    ...span('fromThrottle', 'toThrottle', 100, ' %'),
  ]
}

/** Engine speeds that complaints are felt at: the middle of the span, or its one end; none where it is not said. */
export function complaintSpeeds(complaints: readonly Pick<NewComplaint, 'fromRpm' | 'toRpm'>[]): number[] {
  return complaints.flatMap(({ fromRpm, toRpm }) => {
    const [from, to] = [fromRpm ?? toRpm, toRpm ?? fromRpm]
    return from == null || to == null ? [] : [(from + to) / 2]
  })
}

/** What a field shows where a complaint is pinned. */
export interface ComplaintFinding {
  found: 'mixture error' | 'hole' | 'loop edge' | 'misfire' | 'nothing measured' | 'nothing wrong'
  said: string
  /** cell furthest off target there, by its place in the answer; null without one */
  worst: { cylinder: number; row: number; column: number; pct: number } | null
}

/** Percent off target from which a rider can feel it; common practice. */
const FELT = 3
/** Throttle, %, above which a complaint may be of wide-open torque. */
const WIDE_OPEN = 80

/**
 * Looks at what was measured where a complaint is pinned: the cell furthest off, the edge of a held zone, or nothing.
 *
 * @param field an answer of the field; null when there is none
 * @param holes spans of rpm where torque falls in wide-open runs, where curves were compared
 */
export function findingOf(
  place: Pick<NewComplaint, 'fromRpm' | 'toRpm' | 'fromThrottle' | 'toThrottle'>,
  field: FieldAnswer | null,
  holes: readonly { fromRpm: number; toRpm: number }[] = [],
): ComplaintFinding {
  const none = { found: 'nothing measured', said: 'Nothing was measured there.', worst: null } as const
  if (!field) return none
  const isIn = (at: number, from: number | null | undefined, to: number | null | undefined): boolean =>
    at >= (from ?? -Infinity) && at <= (to ?? Infinity)
  // A pin narrower than the breakpoints is judged by the cells on either side of it.
  const near = (axis: readonly number[], from: number | null | undefined, to: number | null | undefined): number[] => {
    const inside = axis.flatMap((at, k) => (isIn(at, from, to) ? [k] : []))
    if (inside.length || (from == null && to == null)) return inside
    const middle = ((from ?? to)! + (to ?? from)!) / 2
    const above = axis.findIndex((at) => at > middle)
    return above > 0 ? [above - 1, above] : []
  }
  const columns = near(field.rpm, place.fromRpm, place.toRpm)
  const rows =
    field.loadAxis === 'throttle' ? near(field.load, place.fromThrottle, place.toThrottle) : field.load.map((_, k) => k)
  const cells = field.cylinders.flatMap((one) =>
    rows.flatMap((row) =>
      columns.flatMap((column) => {
        const pct = one.changePct[row]![column] ?? null
        return pct === null || one.held[row]![column] ? [] : [{ cylinder: one.cylinder, row, column, pct }]
      }),
    ),
  )
  const crosses = field.heldZones.some(
    (zone) =>
      (place.fromThrottle == null || isIn(zone.load, place.fromThrottle, place.toThrottle)) &&
      isIn(zone.toRpm, place.fromRpm ?? 0, place.toRpm ?? Infinity),
  )
  const overlaps = ({ fromRpm, toRpm }: { fromRpm: number; toRpm: number }): boolean =>
    toRpm >= (place.fromRpm ?? 0) && fromRpm <= (place.toRpm ?? Infinity)
  const misfire = field.runs.find(({ odd }) => odd && odd.departurePct > 0 && overlaps(odd))?.odd
  const isWideOpen = (place.toThrottle ?? 100) > WIDE_OPEN
  const hole = isWideOpen && (place.fromRpm != null || place.toRpm != null) ? holes.find(overlaps) : undefined
  const worst = [...cells].sort((a, b) => Math.abs(b.pct) - Math.abs(a.pct))[0] ?? null
  if (worst && Math.abs(worst.pct) >= FELT) {
    const at = `${grouped(field.rpm[worst.column]!)} rpm and ${field.load[worst.row]} ${LOAD_UNITS[field.loadAxis]}`
    return {
      found: 'mixture error',
      said: `${worst.pct > 0 ? 'Lean' : 'Rich'} by ${plain(Math.abs(worst.pct), 1)} % of fuel at ${at}.`,
      worst,
    }
  }
  if (misfire)
    return {
      found: 'misfire',
      said: `One run reads ${plain(misfire.departurePct, 1)} % lean from ${grouped(misfire.fromRpm)} to ${grouped(misfire.toRpm)} rpm and its repeats do not: a misfire? Leads and plugs before fuel.`,
      worst,
    }
  if (hole)
    return {
      found: 'hole',
      said: `Torque has a hole from ${grouped(hole.fromRpm)} to ${grouped(hole.toRpm)} rpm${worst ? ', the mixture is right' : ', the mixture was not measured'}.`,
      worst,
    }
  if (crosses)
    return { found: 'loop edge', said: 'The closed loop lets go there: a step in the mixture can be felt.', worst }
  if (!worst) return none
  return { found: 'nothing wrong', said: `Within ${plain(Math.abs(worst.pct), 1)} % of target there.`, worst }
}

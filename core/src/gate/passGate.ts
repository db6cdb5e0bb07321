import { isRefusal, Refusal, type Fault } from '../refusal/refusal'
import { dangerCode, dangerTitle, type DangerKind } from '../refusal/dangers'
import type { Danger } from './danger'

/** Something that can hurt was asked for: refused, or waiting for a reason, which would stand at so many places. */
function gateRefused(dangers: readonly Danger[], at: string): Refusal {
  const worst = dangers.filter((one) => one.never)
  const told = worst.length ? worst : dangers
  const asks = worst.length ? [] : [{ field: `${at}override`, message: 'say why it must be, this once' }]
  const faults: Fault[] = told.flatMap((one) => one.lines ?? [{ field: at + one.field, message: one.text }])
  const steps = told.flatMap((one) => one.steps ?? [])
  return new Refusal(
    dangerCode(told[0]!.kind),
    told.map((one) => one.text).join(' '),
    [...asks, ...faults],
    Object.assign(
      { dangers: told.map((one) => one.kind), ...(steps.length && { steps }) },
      ...told.map((one) => one.more),
    ),
  )
}

/** Whether the gate refused something, for its danger. */
export const isGateRefusal = (error: unknown): error is Refusal =>
  isRefusal(error) && error.more['dangers'] !== undefined

/** Whether a reason would let it pass. */
export const asksForReason = ({ faults }: Refusal): boolean =>
  faults.some(({ field = '' }) => /(^|\.)override$/.test(field))

/** A line of the logbook. */
export interface GateLine {
  act: string
  text: string
}

const ACTS: Partial<Record<DangerKind, string>> = {
  'fuel step': 'large step of fuel',
  'spark step': 'large step of spark',
  'plate step': 'large step of the plate',
  'acceleration step': 'large step of acceleration fuel',
  'target step': 'large step of the target',
}

/** Most that a line tells of what was asked. */
const MOST_TEXT = 400

/**
 * The one gate: lets what can hurt pass for a reason, or not at all.
 *
 * @param dangers found in what is asked for; none passes at once
 * @param reason why it must be, this once; empty for none
 * @param at where in what was asked the reason would stand, as `revisions[0].`
 * @returns lines for the logbook, each with the reason
 * @throws Refusal by the danger's code
 * @example
 * const lines = passGate(leanTargets(before, after), override)
 */
export function passGate(dangers: readonly Danger[], reason: string | undefined, at = ''): GateLine[] {
  if (dangers.length === 0) return []
  if (!reason?.trim() || dangers.some((one) => one.never)) throw gateRefused(dangers, at)
  return dangers.map(({ kind, text }) => ({
    act: ACTS[kind] ?? dangerTitle(kind).toLowerCase(),
    text: `${reason.trim()} (${text.slice(0, MOST_TEXT)})`,
  }))
}

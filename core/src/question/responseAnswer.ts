import type { PlateAnswer, ResponseAnswer } from '../contract/response'
import type { MadePlate } from '../response/grip/plateTable'
import type { Response } from '../response/response'

/** A response as it is answered over HTTP: figures without the curves behind them. */
export function responseAnswer({ groups, bare, sensor, ...response }: Response): ResponseAnswer {
  const { exits, overrun, braking, grip, byMode, byGear, snatch, gears, plan, modes, mode, notes } = response
  return {
    rollOns: [...groups.flatMap((one) => one.members.map((member) => member.rollOn)), ...bare].sort((a, b) =>
      a.run === b.run ? a.atS - b.atS : a.run < b.run ? -1 : 1,
    ),
    groups: groups.map(({ members: _members, excursion: _excursion, ...group }) => ({
      ...group,
      leanPct: [...group.leanPct],
      richPct: [...group.richPct],
      settleS: [...group.settleS],
      advice: { what: group.advice.what, pct: [...group.advice.pct] },
    })),
    exits,
    overrun,
    braking: braking.map((one) => ({ ...one, torque: [...one.torque] })),
    grip,
    byMode,
    byGear,
    snatch: snatch.map((one) => ({ ...one, index: [...one.index] })),
    gears,
    plan,
    lagMs: 1000 * sensor.lag,
    lagErrorMs: 1000 * sensor.error,
    lagFrom: sensor.from,
    modes,
    mode,
    notes,
  }
}

/** A plate table as it is answered over HTTP. */
export function plateAnswer({ grip, rpm, values, torque, cautions }: MadePlate): PlateAnswer {
  return { table: { kind: 'plate', rpm, load: grip, values }, torque, cautions }
}

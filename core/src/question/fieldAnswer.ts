import type { FieldAnswer } from '../contract/field'
import type { Field } from '../field/field'
import { straightBetween } from '../field/straight'

/** A field as the HTTP interface answers it: milliseconds, ids, nulls. */
export function fieldAnswer(field: Field): FieldAnswer {
  return {
    rpm: field.grid.rpm,
    load: field.grid.load,
    loadAxis: field.grid.loadAxis,
    method: field.method,
    lagMs: Math.round(field.lag.lag * 1e4) / 10,
    lag: {
      from: field.lag.from,
      errorMs: field.lag.error === null ? null : Math.round(field.lag.error * 1000),
      note: field.lag.note,
      disagree: field.lag.disagree,
      byFlow: field.lag.byFlow && {
        baseMs: Math.round(field.lag.byFlow.base * 1e4) / 10,
        perFlow: field.lag.byFlow.perFlow,
      },
      sources: field.lag.sources.map(({ what, lag, error, count }) => ({
        what,
        lagMs: Math.round(lag * 1e4) / 10,
        errorMs: Math.round(error * 1000),
        count,
      })),
    },
    commandedUnlike: field.commandedUnlike ?? null,
    cylinders: field.cylinders.map(({ noise: _noise, ...cylinder }) => cylinder),
    straight: straightBetween(field.grid, field.cylinders),
    heldZones: field.heldZones.map(({ load, fromRpm, toRpm }) => ({ load, fromRpm, toRpm })),
    misfires: field.misfires,
    runs: field.runs,
  }
}

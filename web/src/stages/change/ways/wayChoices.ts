import { commandedTable, knownSpan, type TableInfo, type Wanted, type WayAsked, type WayKind } from '@yuzumix/core'

/** What is chosen of each way before it is worked out; lists as they are typed, empty for free. */
export interface WayChoices {
  table: { table: string }
  coarse: { rpmPoints: number; loadPoints: number; rpmStep: number; loadStep: number; rpm: number[]; load: number[] }
  bands: { axis: 'rpm' | 'load'; bands: number; crossover: number; edges: number[]; table: string }
  strips: { threshold: number; rpm: number[] }
  global: { table: string }
  pressure: { kPa: number | null; manifoldKpa: number; mostKpa: number | null }
  injectors: {
    table: string
    fromFlow: number | null
    fromDead: number
    toFlow: number | null
    toDead: number
    kPaFrom: number | null
    kPaTo: number | null
  }
  filling: { table: string; intent: string; equalFrom: number | null }
}

/** What stands for no table: an empty choice is not shown. */
export const NO_TABLE = 'none'

/** What stands for a commanded lambda that stays. */
export const AS_IT_IS = 'as it is'

/** Choices to begin with, where anything of a wanted change is known. */
export function firstChoices(wanted: Wanted): WayChoices {
  const [rpm, load] = [knownSpan(wanted, 'rpm'), knownSpan(wanted, 'load')]
  const evenly = (count: number): number[] =>
    Array.from({ length: count }, (_, k) => {
      const at = rpm[0]! + ((rpm.at(-1)! - rpm[0]!) * k) / (count - 1)
      return Math.round(at / 250) * 250
    })
  const speeds = [...new Set(evenly(8))]
  return {
    table: { table: NO_TABLE },
    coarse: { rpmPoints: 6, loadPoints: 6, rpmStep: 250, loadStep: 1, rpm: [], load: [] },
    // Read at one speed by opening, as a carburettor is.
    bands: { axis: rpm.length > 1 ? 'rpm' : 'load', bands: 3, crossover: 0, edges: [], table: NO_TABLE },
    strips: {
      threshold: load.find((one) => one > load.at(-1)! / 5) ?? load.at(-1)!,
      rpm: speeds.length > 1 ? speeds : [2000, 8000],
    },
    global: { table: NO_TABLE },
    pressure: { kPa: null, manifoldKpa: 0, mostKpa: null },
    injectors: {
      table: NO_TABLE,
      fromFlow: null,
      fromDead: 0.8,
      toFlow: null,
      toDead: 0.8,
      kPaFrom: null,
      kPaTo: null,
    },
    filling: { table: NO_TABLE, intent: AS_IT_IS, equalFrom: null },
  }
}

type Asked = { way: WayAsked } | { wants: string }

/**
 * A way as it is asked for by what was chosen, or what has to be said before.
 *
 * @param tables fuel tables of the job
 */
export function wayAsked(kind: WayKind, choices: WayChoices, tables: readonly TableInfo[]): Asked {
  const tableOf = (id: string) => tables.find((one) => one.id === id)?.table
  const withTable = (id: string) => {
    const table = tableOf(id)
    return table ? { table } : {}
  }
  switch (kind) {
    case 'table':
      return { way: { kind, ...withTable(choices.table.table) } }
    case 'coarse': {
      const { rpm, load, ...rest } = choices.coarse
      return {
        way: {
          kind,
          ...rest,
          ...(rpm.length && { rpm, rpmPoints: rpm.length }),
          ...(load.length && { load, loadPoints: load.length }),
        },
      }
    }
    case 'bands': {
      const { table, edges, ...rest } = choices.bands
      return { way: { kind, ...rest, ...(edges.length && { edges, bands: edges.length + 1 }), ...withTable(table) } }
    }
    case 'strips':
      return { way: { kind, ...choices.strips } }
    case 'global':
      return { way: { kind, ...withTable(choices.global.table) } }
    case 'pressure': {
      const { kPa, manifoldKpa, mostKpa } = choices.pressure
      if (kPa === null) return { wants: 'Say the rail pressure of now.' }
      return { way: { kind, kPa, manifoldKpa, ...(mostKpa !== null && { mostKpa }) } }
    }
    case 'injectors': {
      const { table, fromFlow, fromDead, toFlow, toDead, kPaFrom, kPaTo } = choices.injectors
      if (fromFlow === null || toFlow === null) return { wants: 'Say the flow of both sets.' }
      const pressures = kPaFrom !== null && kPaTo !== null ? { kPaFrom, kPaTo } : {}
      const [from, to] = [
        { flow: fromFlow, deadMs: fromDead },
        { flow: toFlow, deadMs: toDead },
      ]
      return { way: { kind, ...withTable(table), from, to, ...pressures } }
    }
    case 'filling': {
      const { table, intent, equalFrom } = choices.filling
      const own = tableOf(table) ?? tables.find((one) => one.table.kind === 'filling')?.table
      if (!own) return { wants: 'Needs a table of filling.' }
      const commanded = commandedTable(tables)?.table
      return {
        way: {
          kind,
          table: own,
          ...(commanded && { commanded, ...(intent !== AS_IT_IS && { intent }) }),
          ...(equalFrom !== null && { equalFrom }),
        },
      }
    }
  }
}

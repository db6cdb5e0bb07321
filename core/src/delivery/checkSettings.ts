import { inputRefused } from '../refusal/refusal'
import { rangeFault, sameGrid, shapeFault } from '../table/table'
import type { Cells, SettingsOf, WayAsked, WayKind } from './ways'

/**
 * Whether numbers that somebody set fit the way they are for: as many values as places, bands or speeds, rising where they must,
 * within what a module takes.
 *
 * @param field where they stand in what was asked
 * @throws Refusal 'input-refused'
 */
export function checkSettings<K extends WayKind>(
  asked: WayAsked & { kind: K },
  settings: SettingsOf[K],
  field: string,
): void {
  const fault = faultOf(asked, settings)
  if (fault) throw inputRefused([{ field, message: fault }])
}

const rises = (values: readonly number[]): boolean => values.every((one, k) => k === 0 || one > values[k - 1]!)
const MOST = { least: -60, most: 100 }
const isOut = (value: number): boolean => !(value >= MOST.least && value <= MOST.most)

function faultOf(asked: WayAsked, settings: SettingsOf[WayKind]): string | null {
  const out = percentsOf(asked.kind, settings).find(isOut)
  if (out !== undefined) return `has ${out} %; a way takes ${MOST.least} to ${MOST.most} %`
  switch (asked.kind) {
    case 'table':
    case 'coarse': {
      const { rpm, load, values } = settings as SettingsOf['coarse']
      if (rpm.length < 2 || load.length < 2 || !rises(rpm) || !rises(load))
        return 'needs two rising places on each axis'
      const fault = shapeFault({ rpm: [...rpm], load: [...load] }, values)
      return fault && `has ${fault}`
    }
    case 'bands': {
      const { edges, values } = settings as SettingsOf['bands']
      if (values.length !== edges.length + 1) return `has ${values.length} values for ${edges.length} edges`
      return rises(edges) ? null : 'needs edges that rise'
    }
    case 'strips': {
      const { rpm, low, high } = settings as SettingsOf['strips']
      if (rpm.length < 2 || !rises(rpm)) return 'needs two rising speeds'
      return low.length === rpm.length && high.length === rpm.length ? null : `needs ${rpm.length} values in each strip`
    }
    case 'pressure': {
      const { kPa } = settings as SettingsOf['pressure']
      const { manifoldKpa = 0 } = asked
      return kPa > manifoldKpa ? null : `${kPa} kPa must be above the manifold's ${manifoldKpa} kPa`
    }
    case 'filling': {
      const { filling, target } = settings as SettingsOf['filling']
      const [own, wide] = [asked.table, asked.commanded]
      if (own && !sameGrid(own, grid(filling))) return 'does not stand on the breakpoints of the table of filling'
      const fault = shapeFault(grid(filling), filling.values)
      if (fault) return `has ${fault}`
      if (!target) return null
      if (!wide) return 'has a commanded lambda, but there is no table that commands it'
      if (!sameGrid(wide, grid(target))) return 'does not stand on the breakpoints of the table that commands lambda'
      const wrong = shapeFault(grid(target), target.values) ?? rangeFault('lambda target', target.values)
      return wrong && `has ${wrong}`
    }
    default:
      return null
  }
}

const grid = ({ rpm, load }: Cells): { rpm: number[]; load: number[] } => ({ rpm: [...rpm], load: [...load] })

/** All percents among the numbers of a way. */
function percentsOf(kind: WayKind, settings: SettingsOf[WayKind]): number[] {
  switch (kind) {
    case 'table':
    case 'coarse':
      return (settings as SettingsOf['coarse']).values.flat()
    case 'bands':
      return [...(settings as SettingsOf['bands']).values]
    case 'strips': {
      const { low, high } = settings as SettingsOf['strips']
      return [...low, ...high]
    }
    case 'global':
      return [(settings as SettingsOf['global']).pct]
    case 'filling':
      return (settings as SettingsOf['filling']).filling.values.flat()
    default:
      return []
  }
}

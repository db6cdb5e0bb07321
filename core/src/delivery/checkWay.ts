import { inputRefused, type FieldFault } from '../refusal/refusal'
import { TARGET_PRESETS } from '../field/target'
import { setsFuel } from '../table/kinds'
import { breakpointFault, LOAD_UNITS, sameGrid, type Table } from '../table/table'
import { plain } from '../numbers/format'
import { axisChoices } from './coarse'
import { AXES, rasterOver, type Axis } from './raster'
import { knownSpan, type Wanted } from './wanted'
import type { WayAsked } from './ways'

type Of<K extends WayAsked['kind']> = Extract<WayAsked, { kind: K }>
type Faults = { field: string; message: string }[]

/**
 * What keeps a way from being worked out: places closer than the raster, bands without a range, a threshold outside, a pump
 * that does not hold the pressure of now, pulses over before their injector opens.
 *
 * @param field where the way stands in what was asked, as `ways[2]`
 * @throws Refusal 'input-refused' with every fault
 */
export function checkWay(wanted: Wanted, way: WayAsked, field: string): void {
  const own = faultsOf(wanted, way)
  const other = 'table' in way && way.table ? tableFaults(wanted, way.kind, way.table) : []
  const faults = [...own, ...other].map((one): FieldFault => ({ ...one, field: `${field}.${one.field}` }))
  if (faults.length) throw inputRefused(faults)
}

function faultsOf(wanted: Wanted, way: WayAsked): Faults {
  switch (way.kind) {
    case 'coarse':
      return coarseFaults(wanted, way)
    case 'bands':
      return bandFaults(wanted, way)
    case 'strips':
      return stripFaults(wanted, way)
    case 'pressure':
      return pressureFaults(way)
    case 'injectors':
      return injectorFaults(way)
    case 'filling':
      return fillingFaults(wanted, way)
    default:
      return []
  }
}

/** Unit of what an axis of a wanted change counts in. */
const unitOf = (wanted: Wanted, axis: Axis): string => (axis === 'rpm' ? 'rpm' : LOAD_UNITS[wanted.loadAxis])

function coarseFaults(wanted: Wanted, way: Of<'coarse'>): Faults {
  const choices = axisChoices(way)
  return AXES.flatMap((axis): Faults => {
    const choice = choices[axis]
    const count = axis === 'rpm' ? way.rpmPoints : way.loadPoints
    const unit = unitOf(wanted, axis)
    if ('count' in choice) {
      const span = knownSpan(wanted, axis)
      const places = rasterOver(span, choice.step).length
      return places >= count
        ? []
        : [
            {
              field: axis === 'rpm' ? 'rpmPoints' : 'loadPoints',
              message: `asks for ${count} places, but a raster of ${choice.step} ${unit} has ${places} over ${span[0]} to ${span.at(-1)} ${unit}`,
            },
          ]
    }
    const fault = breakpointFault(axis, choice.given)
    if (fault) return [{ field: axis, message: fault }]
    if (choice.given.length !== count)
      return [{ field: axis, message: `has ${choice.given.length} places, but ${count} are asked for` }]
    const step = (axis === 'rpm' ? way.rpmStep : way.loadStep) ?? 0
    const close = choice.given.findIndex((value, k) => k > 0 && value - choice.given[k - 1]! < step - 1e-9)
    return close < 0
      ? []
      : [
          {
            field: `${axis}[${close}]`,
            message: `${choice.given[close]} stands closer to ${choice.given[close - 1]} than the raster of ${step} ${unit}`,
          },
        ]
  })
}

function bandFaults(wanted: Wanted, { axis, bands, edges, crossover = 0 }: Of<'bands'>): Faults {
  const [low, high] = [wanted[axis][0]!, wanted[axis].at(-1)!]
  const unit = unitOf(wanted, axis)
  const range = `${low} to ${high} ${unit}`
  if (crossover * (bands - 1) > high - low)
    return [{ field: 'crossover', message: `of ${crossover} ${unit} is too wide for ${bands} bands over ${range}` }]
  if (!edges) return []
  if (edges.length !== bands - 1)
    return [{ field: 'edges', message: `has ${edges.length}, but ${bands} bands have ${bands - 1}` }]
  return edges.flatMap((edge, k): Faults => {
    const at = `edges[${k}]`
    if (!(edge > low && edge < high)) return [{ field: at, message: `${edge} leaves a band nothing of ${range}` }]
    if (k === 0) return []
    const before = edges[k - 1]!
    if (!(edge > before)) return [{ field: at, message: `${edge} must be above ${before}` }]
    return edge - before < crossover
      ? [{ field: at, message: `${edge} stands closer to ${before} than their crossover of ${crossover} ${unit}` }]
      : []
  })
}

function stripFaults(wanted: Wanted, { threshold, rpm }: Of<'strips'>): Faults {
  const [low, high] = [wanted.load[0]!, wanted.load.at(-1)!]
  const fault = breakpointFault('rpm', rpm)
  return [
    ...(threshold > low && threshold <= high
      ? []
      : [
          {
            field: 'threshold',
            message: `${threshold} is outside ${low} to ${high} ${unitOf(wanted, 'load')}: one of the strips would never be used`,
          },
        ]),
    ...(fault ? [{ field: 'rpm', message: fault }] : []),
  ]
}

function pressureFaults({ kPa, manifoldKpa = 0, mostKpa }: Of<'pressure'>): Faults {
  return [
    ...(kPa > manifoldKpa ? [] : [{ field: 'kPa', message: `${kPa} must be above the manifold's ${manifoldKpa} kPa` }]),
    ...(mostKpa === undefined || mostKpa >= kPa
      ? []
      : [{ field: 'mostKpa', message: `the pump holds ${mostKpa} kPa, less than the ${kPa} of now: mend that first` }]),
  ]
}

function injectorFaults({ table, from, kPaFrom, kPaTo }: Of<'injectors'>): Faults {
  const faults: Faults = []
  if ((kPaFrom === undefined) !== (kPaTo === undefined))
    faults.push({ field: kPaFrom === undefined ? 'kPaFrom' : 'kPaTo', message: 'is missing: both pressures or none' })
  if (!table) return faults
  table.values.forEach((cells, row) => {
    const column = cells.findIndex((ms) => ms !== 0 && !(ms > from.deadMs))
    if (column >= 0 && faults.length < 5)
      faults.push({
        field: 'from.deadMs',
        message: `${from.deadMs} ms is no shorter than the pulse of ${plain(cells[column]!, 3)} ms at ${table.rpm[column]} rpm and ${table.load[row]}: it would never open`,
      })
  })
  return faults
}

function fillingFaults(wanted: Wanted, { table, commanded, intent }: Of<'filling'>): Faults {
  const known = TARGET_PRESETS.map((one) => one.id)
  return [
    ...(table ? [] : [{ field: 'table', message: 'is missing: name the table of filling' }]),
    ...(commanded && commanded.kind !== 'lambda target'
      ? [{ field: 'commanded', message: `is a ${commanded.kind} table, which commands no lambda` }]
      : []),
    ...(commanded && commanded.loadAxis !== wanted.loadAxis
      ? [{ field: 'commanded', message: `has rows by ${commanded.loadAxis}, the wanted change by ${wanted.loadAxis}` }]
      : []),
    ...(intent !== undefined && !known.includes(intent)
      ? [{ field: 'intent', message: `there is no target "${intent}"; there are ${known.join(', ')}` }]
      : []),
    ...(intent !== undefined && !commanded
      ? [{ field: 'intent', message: 'needs a table that commands lambda; this job has none' }]
      : []),
  ]
}

function tableFaults(wanted: Wanted, kind: WayAsked['kind'], table: Table): Faults {
  if (kind === 'injectors')
    return table.kind === 'fuel base'
      ? []
      : [{ field: 'table', message: `is a ${table.kind} table; pulses in ms stand in a fuel base table` }]
  if (kind === 'filling')
    return table.kind === 'filling'
      ? axisFaults(wanted, table)
      : [{ field: 'table', message: `is a ${table.kind} table; the way needs one of filling` }]
  if (!setsFuel(table))
    return [{ field: 'table', message: `is a ${table.kind} table; only fuel tables take a change of fuel` }]
  if (kind !== 'table' && !sameGrid(table, wanted))
    return [
      {
        field: 'table',
        message: 'stands on other breakpoints than the wanted change: beside a way it must have the same',
      },
    ]
  return axisFaults(wanted, table)
}

function axisFaults(wanted: Wanted, table: Table): Faults {
  return table.loadAxis === wanted.loadAxis
    ? []
    : [{ field: 'table', message: `has rows by ${table.loadAxis}, the wanted change by ${wanted.loadAxis}` }]
}

import { correctionById, type FieldAnswer, type Job, type Report } from '@yuzumix/core'
import { weatherWords } from './reportRecord'
import type { Sides } from './reportSides'

/** The weather of each set by its name; one weather where all are alike. */
export function weatherOf({ sets, runsOf }: Sides): string {
  const said = sets.map((set) => ({ name: set.name, weather: weatherWords(set, runsOf(set)) || 'not noted' }))
  const kinds = new Set(said.map((one) => one.weather))
  if (kinds.size === 0) return 'not noted'
  if (kinds.size === 1) return said[0]!.weather
  return said.map(({ name, weather }) => `${name}: ${weather}`).join('. ')
}

/** What power and torque were brought to; without weather they stay as they were, and it is said. */
export function correctionWords({ power }: Job, { before, after, runsOf }: Sides): string {
  const { id, name } = correctionById(power.correction)
  const without = [before, after].flatMap((set) => (set && weatherWords(set, runsOf(set)) === '' ? [set.name] : []))
  if (id === 'none' || (!before && !after)) return id === 'none' ? 'Power and torque uncorrected' : `Power by ${name}`
  if (without.length === 0) return `Power and torque by ${name}`
  const whole = without.length === [before, after].filter(Boolean).length
  return whole
    ? `Power and torque uncorrected: ${name} needs the weather, which was not noted`
    : `Power and torque by ${name}; uncorrected for ${without.join(' and ')}, whose weather was not noted`
}

/** Leanest and richest lambda that is aimed at where anything is known. */
export function wantedOf(field: FieldAnswer | null, { gaugeScale }: Job): Report['wanted'] {
  const aims = (field?.cylinders ?? []).flatMap(({ target, lambda }) =>
    target.flatMap((cells, row) => cells.filter((_, column) => lambda[row]![column] !== null)),
  )
  return aims.length ? { least: Math.min(...aims), most: Math.max(...aims), gaugeScale } : null
}

/** What sits in the gas of which cylinder. */
export function probeWords({ rigging }: Job): string {
  const { probes = [], cylinderNames = [] } = rigging ?? {}
  return probes
    .map(({ probe, cylinder }) => `probe ${probe}: ${cylinderNames[cylinder - 1] || `cylinder ${cylinder}`}`)
    .join(', ')
}

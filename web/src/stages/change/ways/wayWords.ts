import { LOAD_UNITS, type LoadAxis, type SettingsOf, type WayKind, type Worst } from '@yuzumix/core'
import { counted, grouped, plain, signed } from '@/parts/numbers/format'

/** What each way is called, and in one line what it is. */
export const WAY_WORDS: Readonly<Record<WayKind, { title: string; about: string }>> = {
  table: { title: 'Whole table', about: 'every cell of a fuel table' },
  coarse: { title: 'Coarse table', about: 'few cells, whose places can be moved' },
  bands: { title: 'Bands', about: 'one percent for each part of the range' },
  strips: { title: 'Two strips', about: 'a list by rpm below and one above an opening' },
  global: { title: 'One percent', about: 'the same everywhere' },
  pressure: { title: 'Fuel pressure', about: 'more or less from every injector' },
  injectors: { title: 'Injectors', about: 'another set, all pulses rescaled' },
  filling: { title: 'Filling and lambda', about: 'fuel = filling ÷ commanded lambda: each by its own' },
}

const unit = (axis: LoadAxis): string => LOAD_UNITS[axis]

/** Numbers of a way in one short line. */
export function numbersInLine(kind: WayKind, settings: SettingsOf[WayKind], axis: LoadAxis): string {
  const of: { [Kind in WayKind]: (one: SettingsOf[Kind]) => string } = {
    table: ({ rpm, load }) => `${rpm.length} × ${load.length} cells`,
    coarse: ({ rpm, load }) => `${rpm.length} × ${load.length} points`,
    bands: ({ axis: along, edges, values, table }) =>
      `${values.map((one) => signed(one)).join(' / ')} %, edges ${edges.map((one) => grouped(one)).join(', ')} ${along === 'rpm' ? 'rpm' : unit(axis)}${table ? `, ${counted(table.cells, 'cell')} beside` : ''}`,
    strips: ({ threshold, rpm }) => `${rpm.length} speeds, below and from ${plain(threshold, 0)} ${unit(axis)}`,
    global: ({ pct, table }) => `${signed(pct)} %${table ? `, ${counted(table.cells, 'cell')} beside` : ''}`,
    pressure: ({ kPa }) => `${plain(kPa, 0)} kPa`,
    injectors: ({ pulseFactor, deadMsChange }) =>
      `pulse × ${plain(pulseFactor, 3)}, dead time ${signed(deadMsChange, 2)} ms`,
    filling: ({ filling: { rpm, load }, target }) =>
      `${rpm.length} × ${load.length} cells${target ? ', and the commanded lambda' : ''}`,
  }
  return (of[kind] as (one: SettingsOf[WayKind]) => string)(settings)
}

/** How lean or rich a place is left, and where. */
export function worstWords({ pct, rpm, load }: Worst, axis: LoadAxis): { size: string; where: string } {
  const word = Math.abs(pct) < 0.05 ? '' : pct > 0 ? ' lean' : ' rich'
  return {
    size: `${plain(Math.abs(pct), 1)} %${word}`,
    where: `${grouped(Math.round(rpm))} rpm, ${plain(load, Number.isInteger(load) ? 0 : 1)} ${unit(axis)}`,
  }
}

/** Minutes as one says them. */
export const minutesWords = (minutes: number): string => `${Math.max(1, Math.round(minutes))} min`

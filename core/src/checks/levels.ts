import { isRunning } from '../run/engineState'
import { plain, signed } from '../numbers/format'
import { median } from '../numbers/median'
import type { RunColumns } from '../run/run'
import type { Doubt, Ground } from './doubt'
import { meanLambda, type BinnedSweep, type SweepBin } from './binnedSweep'
import { departures, stopGroups } from './departures'
import { named, nameOf } from './named'

/** A whole file off the others of its stop (ln): so far, over so many bins and such a share of its own, evenly to this share. */
const OFF = { mixture: 0.027, torque: 0.1, bins: 6, share: 0.6, even: 0.35 }
/** How near the others must be to each other, share of that. */
const OTHERS = 0.5
/** lambda that no running engine reads as a rule. */
const MIXTURE = { least: 0.66, most: 1.25 }
/** bar of mean effective pressure, and kW a litre, that no engine without a blower makes (Heywood 1988, 2.7: 8.5 to 10.5 bar; racing engines 14 to 15). */
const MEAN_PRESSURE = 15.5
const PER_LITRE = 185
/** kPa from which an engine is blown. */
const BLOWN = 112
/** Units that are mistaken for each other, by their factor. */
const MISTAKEN = [
  { factor: 1.3558, what: 'lb·ft taken for N·m, or N·m for lb·ft' },
  { factor: 1.341, what: 'horsepower and kW mixed up' },
  { factor: 9.807, what: 'kg·m taken for N·m' },
  { factor: 2, what: 'a factor of two' },
]
const SCALES = [
  { factor: 14.7 / 14.08, what: 'a gauge at 14.7 read as 14.1' },
  { factor: 14.7 / 13.7, what: 'a gauge at 14.7 read as 13.7' },
  { factor: 14.7 / 9.0, what: 'a gauge at 14.7 read as 9.0' },
  { factor: 14.7 / 6.4, what: 'a gauge at 14.7 read as 6.4' },
]

interface Whole {
  id: string
  level: number
}

/** Files that as a whole lie off the others of their stop, by one factor. */
function wholeFiles(sweeps: readonly BinnedSweep[], kind: 'mixture' | 'torque'): Whole[] {
  const value =
    kind === 'mixture' ? meanLambda : ({ torque }: SweepBin): number => (torque > 0 ? Math.log(torque) : NaN)
  const found = stopGroups(sweeps).flatMap((group) => {
    if (new Set(group.map((one) => one.id)).size < 3) return []
    const off = departures(group, value)
    return off.flatMap(({ sweep, level, spread, bins, share }): Whole[] => {
      const others = departures(
        group.filter((one) => one.id !== sweep.id),
        value,
      ).map((one) => Math.abs(one.level))
      const isOff =
        Math.abs(level) >= OFF[kind] &&
        bins >= OFF.bins &&
        share >= OFF.share &&
        spread <= OFF.even * Math.abs(level) &&
        Math.max(0, ...others) <= OTHERS * Math.abs(level)
      return isOff ? [{ id: sweep.id, level }] : []
    })
  })
  const byRun = new Map<string, number[]>()
  for (const { id, level } of found) byRun.set(id, [...(byRun.get(id) ?? []), level])
  return [...byRun].map(([id, levels]) => ({ id, level: median(levels) }))
}

/** How a factor may have come about; empty where none is known. */
function mistaken(level: number, known: readonly { factor: number; what: string }[]): string {
  const factor = Math.exp(Math.abs(level))
  const like = known.find((one) => Math.abs(Math.log(factor / one.factor)) < 0.012)
  return like ? ` That is the factor of ${like.what}.` : ''
}

/** The mixture of a file on another scale than the others, or of all on one that cannot be. */
export function mixtureDoubts(runs: readonly RunColumns[], sweeps: readonly BinnedSweep[], { names }: Ground): Doubt[] {
  const off = wholeFiles(sweeps, 'mixture').map(({ id, level }): Doubt => ({
    kind: 'mixture',
    runs: [id],
    text: `"${nameOf(id, names)}" reads ${signed(100 * (Math.exp(level) - 1))} % against its repeats at every speed: its gauge is on another scale, or its probe is another.${mistaken(level, SCALES)} Set the gauge scale of that run, or leave it out.`,
    offer: null,
  }))
  const cannot = runs.filter((run) => {
    if (run.handRange) return false
    const read = run.lambda.flatMap((column) =>
      Array.from(column).filter((one, i) => one > 0 && i % 7 === 0 && run.rpm[i]! > 1000),
    )
    const middle = read.length ? median(read) : 0.9
    return middle < MIXTURE.least || middle > MIXTURE.most
  })
  if (cannot.length === 0) return off
  const ids = cannot.map((run) => run.id)
  return [
    ...off,
    {
      kind: 'mixture',
      runs: ids,
      text: `Most readings of ${named(ids, names, runs.length)} lie where no engine runs (below lambda ${MIXTURE.least} or above ${MIXTURE.most}): the gauge scale or the unit of the column is wrong, or the probe stands in free air. Say what the gauge shows at lambda 1.`,
      offer: null,
    },
  ]
}

/** Torque that cannot be, or of a file that differs by a factor. */
export function torqueDoubts(runs: readonly RunColumns[], sweeps: readonly BinnedSweep[], ground: Ground): Doubt[] {
  const off = wholeFiles(sweeps, 'torque').map(({ id, level }): Doubt => ({
    kind: 'torque',
    runs: [id],
    text: `Torque of "${nameOf(id, ground.names)}" is ${plain(Math.exp(level), 2)} times that of its repeats at every speed.${mistaken(level, MISTAKEN)} Another gear, drum or unit: set it right, or leave the run out.`,
    offer: null,
  }))
  const most = mostMade(runs, ground)
  return most ? [...off, most] : off
}

function mostMade(runs: readonly RunColumns[], { displacementCc, strokes, names }: Ground): Doubt | null {
  if (displacementCc === null) return null
  const turns = strokes === 2 ? 1 : 2
  const off = runs.flatMap(({ id, rpm, torque, power, manifold }) => {
    if (!torque && !power) return []
    if (manifold?.some((one) => one > BLOWN)) return []
    const made = [...rpm.keys()].flatMap((i) => {
      const nm = torque ? torque[i]! : isRunning(rpm[i]!) ? (power![i]! * 30000) / Math.PI / rpm[i]! : NaN
      return nm > 0 && rpm[i]! > 1000 ? [{ nm, kw: power ? power[i]! : (nm * rpm[i]! * Math.PI) / 30000 }] : []
    })
    if (made.length < 20) return []
    const top = (values: number[]): number => values.sort((a, b) => a - b)[Math.floor(0.98 * (values.length - 1))]!
    const bar = (2 * Math.PI * turns * top(made.map((one) => one.nm))) / (displacementCc * 1e-6) / 1e5
    const litre = top(made.map((one) => one.kw)) / (displacementCc / 1000)
    return bar > MEAN_PRESSURE || litre > PER_LITRE ? [{ id, bar, litre }] : []
  })
  if (off.length === 0) return null
  const worst = off.reduce((a, b) => (a.bar >= b.bar ? a : b))
  const ids = off.map((one) => one.id)
  const what =
    worst.bar > MEAN_PRESSURE
      ? `a mean effective pressure of ${plain(worst.bar, 1)} bar`
      : `${plain(worst.litre, 0)} kW a litre`
  return {
    kind: 'torque',
    runs: ids,
    text: `Torque of ${named(ids, names, runs.length)} would be ${what} from ${plain(displacementCc, 0)} cc: no engine without a blower makes that. Torque of the wheel, another unit or size, or a speed counted twice.`,
    offer: null,
  }
}

import { grouped, plain } from '../numbers/format'
import { median } from '../numbers/median'
import { powerKw } from '../curves/torque/powerUnits'
import type { RunColumns } from '../run/run'
import type { Doubt, Ground } from './doubt'
import type { BinnedSweep } from './binnedSweep'
import { named } from './named'

/** How near a factor of two, share, and runs at the least that tell which ones are off. */
const NEAR_TWO = 0.12
const LEAST_RUNS = 3
/** Power against torque times speed, share beyond which they cannot both be right. */
const POWER_OFF = 0.2
/** Share of running rows beyond the table, and how far they then go: a table may well end before an engine does. */
const OUTSIDE = { share: 0.45, times: 1.5 }
/** Share by which runs go beyond what the machine may turn. */
const BEYOND = 1.2
/** m/s of mean piston speed that no such engine reaches (Heywood 1988, 2.2: 8 to 15 in production; racing engines about 25), by a square cylinder. */
const PISTON = 38
/** % of plate above which nobody pulls an engine from as low as this rpm (common practice), and how far such runs come. */
const PULLED = { plate: 30, rpm: 1150, share: 0.62 }
const TWICE = 'If the pickup counts two pulses a turn, or a spark in every turn of a four-stroke, read it half.'
const HALF = 'If the pickup counts one pulse in two turns, read it twice.'

const isNear = (one: number, other: number): boolean => Math.abs(one / other - 1) <= NEAR_TWO

/** Engine speed that is counted twice or half: in some of the runs, or in all. */
export function speedDoubts(runs: readonly RunColumns[], sweeps: readonly BinnedSweep[], ground: Ground): Doubt[] {
  const some = someRuns(sweeps, ground)
  if (some) return [some]
  const logged = runs.filter((run) => !run.handRange)
  const ids = logged.map((run) => run.id)
  const whole = wholeSet(logged, sweeps, ground)
  if (!whole) return []
  const { text, speed } = whole
  const cure = speed === 0.5 ? TWICE : HALF
  return [
    {
      kind: 'speed',
      runs: ids,
      text: `${text} ${cure}`,
      offer: { label: speed === 0.5 ? 'Count it half' : 'Count it twice', readAs: { speed } },
    },
  ]
}

/** Some runs whose sweeps begin and end at twice, or half, the speeds of the others. */
function someRuns(sweeps: readonly BinnedSweep[], { names }: Ground): Doubt | null {
  const runs = [...new Set(sweeps.map((one) => one.id))]
  if (runs.length < LEAST_RUNS) return null
  const [from, to] = [median(sweeps.map((one) => one.fromRpm)), median(sweeps.map((one) => one.toRpm))]
  for (const factor of [2, 0.5]) {
    const off = sweeps.filter((one) => isNear(one.fromRpm / from, factor) && isNear(one.toRpm / to, factor))
    const ids = [...new Set(off.map((one) => one.id))]
    if (ids.length === 0 || 2 * ids.length >= runs.length) continue
    const speeds = `${grouped(Math.round(median(off.map((one) => one.fromRpm))))} to ${grouped(Math.round(median(off.map((one) => one.toRpm))))} rpm`
    return {
      kind: 'speed',
      runs: ids,
      text: `Engine speed of ${named(ids, names)} goes from ${speeds}, ${factor === 2 ? 'twice' : 'half'} that of the others (${grouped(Math.round(from))} to ${grouped(Math.round(to))}): they cannot both be right. ${factor === 2 ? TWICE : HALF}`,
      offer: { label: factor === 2 ? 'Count it half' : 'Count it twice', readAs: { speed: 1 / factor } },
    }
  }
  return null
}

function wholeSet(
  runs: readonly RunColumns[],
  sweeps: readonly BinnedSweep[],
  ground: Ground,
): { text: string; speed: 0.5 | 2 } | null {
  const ratio = powerRatio(runs)
  if (ratio !== null && (isNear(ratio, 0.5) || isNear(ratio, 2)))
    return {
      text: `Power is ${plain(ratio, 2)} times torque times speed, in every run: they cannot all three be right, and speed is the one that miscounts by two.`,
      speed: ratio < 1 ? 0.5 : 2,
    }
  const speeds = runs
    .flatMap((run) => Array.from(run.rpm.filter((_, i) => i % stride(run) === 0)))
    .filter((one) => one > 400)
  if (speeds.length === 0) return null
  const sorted = speeds.sort((a, b) => a - b)
  const top = sorted[Math.floor(0.995 * (sorted.length - 1))]!
  const piston = pistonSpeed(top, ground)
  if (piston !== null && piston > PISTON)
    return {
      text: `${grouped(Math.round(top))} rpm would be a mean piston speed of about ${plain(piston, 0)} m/s: no engine of this size turns so fast.`,
      speed: 0.5,
    }
  if (ground.revCeiling !== null && top > BEYOND * ground.revCeiling && top < 2.4 * ground.revCeiling)
    return {
      text: `Runs reach ${grouped(Math.round(top))} rpm, ${plain(top / ground.revCeiling, 1)} times the rev ceiling of ${grouped(ground.revCeiling)}.`,
      speed: 0.5,
    }
  const end = ground.grid?.rpm.at(-1) ?? null
  if (end === null) return null
  const outside = sorted.filter((one) => one > end).length / sorted.length
  if (outside >= OUTSIDE.share && top > OUTSIDE.times * end && top < 2.4 * end)
    return {
      text: `${plain(100 * outside, 0)} % of the rows lie beyond the end of the table at ${grouped(end)} rpm, up to ${grouped(Math.round(top))}: the speed is counted twice, or the table is of another engine.`,
      speed: 0.5,
    }
  const pulled = sweeps.filter((one) => one.stop >= PULLED.plate)
  const low = median(pulled.map((one) => one.fromRpm))
  const most = Math.max(...sweeps.map((one) => one.toRpm))
  if (pulled.length >= LEAST_RUNS && low < PULLED.rpm && most < PULLED.share * end)
    return {
      text: `Wide sweeps begin at ${grouped(Math.round(low))} rpm, where no engine is pulled, and all end by ${grouped(Math.round(most))} of the table's ${grouped(end)}.`,
      speed: 2,
    }
  return null
}

/** Rows of a run that are looked at, of a long one few. */
const stride = ({ rpm }: RunColumns): number => Math.max(1, Math.ceil(rpm.length / 5000))

/** Power over what torque and speed make, where both are logged; null where they are not, or agree. */
function powerRatio(runs: readonly RunColumns[]): number | null {
  const ratios = runs.flatMap(({ torque, power, rpm }) => {
    if (!torque || !power) return []
    const own = [...rpm.keys()].flatMap((i) => {
      const made = powerKw(torque[i]!, rpm[i]!)
      return made > 0.5 && power[i]! > 0.5 ? [power[i]! / made] : []
    })
    return own.length ? [median(own)] : []
  })
  if (ratios.length === 0) return null
  const ratio = median(ratios)
  return Math.abs(ratio - 1) > POWER_OFF ? ratio : null
}

/** m/s of mean piston speed if bore equals stroke; null where the size was not said. */
function pistonSpeed(rpm: number, { displacementCc, cylinders }: Ground): number | null {
  if (displacementCc === null || cylinders === null) return null
  const stroke = Math.cbrt((4 * displacementCc) / cylinders / Math.PI) / 100
  return (2 * stroke * rpm) / 60
}

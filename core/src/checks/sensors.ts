import { plain } from '../numbers/format'
import { median } from '../numbers/median'
import type { RunColumns } from '../run/run'
import type { Doubt, Ground } from './doubt'
import type { BinnedSweep } from './binnedSweep'
import { stopGroups } from './departures'
import { named } from './named'

/** °C within which a coolant that is warmed up by an engine at work does not stay, and s of work that would show. */
const STUCK = { span: 0.6, seconds: 40 }
/** How near the rate of a sweep and the step of its rows go together, share, and how far they are off. */
const CLOCK = { near: 0.15, least: 1.5 }
/** Scatter of single readings that no sound gauge shows (common practice: 0.5 to 2 %). */
const NOISY = 0.035

/** A coolant that never moves. */
export function coolantDoubts(runs: readonly RunColumns[], { coolantLeast, names }: Ground): Doubt[] {
  const read = runs.flatMap(({ id, coolant, time, rpm }) => {
    const known = coolant ? Array.from(coolant).filter((one) => one === one) : []
    if (known.length < 50) return []
    const isRunning = rpm.some((one) => one > 1000)
    const [least, most] = known.reduce(([a, b], one) => [Math.min(a, one), Math.max(b, one)], [Infinity, -Infinity])
    return [{ id, least, most, seconds: isRunning ? time.at(-1)! - time[0]! : 0 }]
  })
  if (read.length === 0) return []
  const [least, most] = [Math.min(...read.map((one) => one.least)), Math.max(...read.map((one) => one.most))]
  const seconds = read.reduce((sum, one) => sum + one.seconds, 0)
  const isCold = most < coolantLeast
  if (most - least > STUCK.span || seconds < STUCK.seconds || !(isCold || least < -20 || least > 130)) return []
  const ids = read.map((one) => one.id)
  return [
    {
      kind: 'coolant',
      runs: ids,
      text: `Coolant reads ${plain(median([least, most]), 0)} °C throughout ${named(ids, names, runs.length)}, ${plain(seconds, 0)} s of running engine: it does not warm up, so the sensor is stuck, not the engine cold. Mend it, or lower the coldest coolant in the filters if the engine was warm.`,
      offer: null,
    },
  ]
}

/** A file whose clock runs at another speed: its rows and its sweep are quicker, or slower, by the same factor. */
export function clockDoubts(sweeps: readonly BinnedSweep[], { names }: Ground): Doubt[] {
  const off = stopGroups(sweeps).flatMap((group) => {
    if (group.length < 3) return []
    const [rate, step] = [median(group.map((one) => one.rate)), median(group.map((one) => one.step))]
    return group.flatMap((one) => {
      const [quicker, finer] = [one.rate / rate, step / one.step]
      const isOff = Math.max(quicker, 1 / quicker) >= CLOCK.least && Math.abs(quicker / finer - 1) <= CLOCK.near
      return isOff ? [{ id: one.id, factor: finer }] : []
    })
  })
  const ids = [...new Set(off.map((one) => one.id))]
  if (ids.length === 0) return []
  const factor = median(off.map((one) => one.factor))
  const time = Math.abs(factor - 2) < 0.2 ? 2 : Math.abs(factor - 0.5) < 0.05 ? 0.5 : Math.round(100 * factor) / 100
  return [
    {
      kind: 'clock',
      runs: ids,
      text: `The clock of ${named(ids, names)} runs ${factor < 1 ? `${plain(1 / factor, 1)} times too slow` : `at ${plain(1 / factor, 2)} of its speed`}: rows and sweep both pass ${plain(factor, 1)} times as quick as in its repeats. Its lag, and power from a drum, would be wrong by that.`,
      offer: { label: `Time times ${plain(time, 2)}`, readAs: { time } },
    },
  ]
}

/** Readings that scatter more than any sound gauge. */
export function noiseDoubts({ noise }: Ground): Doubt[] {
  return noise !== null && noise > NOISY
    ? [
        {
          kind: 'noise',
          runs: [],
          text: `Single readings scatter by ${plain(100 * noise, 1)} % about the field; a sound gauge shows 0.5 to 2 %. Probes exchanged between files, a misfire, a leak before the probe, files of different machines or tables, or a lag that is far off make that.`,
          offer: null,
        },
      ]
    : []
}

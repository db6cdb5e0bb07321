import { plain, signed } from '../numbers/format'
import { median } from '../numbers/median'
import type { RunColumns } from '../run/run'
import { studentTail } from '../numbers/studentT'
import type { Doubt, Ground } from './doubt'
import { departures, stopGroups, type Laid } from './laid'
import { named } from './named'

/** Share of rows on which two channels read the very same, and rows at the least. */
const COPY = { share: 0.995, least: 100 }
/** Departure (ln) between files that exchanging must explain, and how many times it must lessen it. */
const EXCHANGED = { least: 0.012, lessens: 2.5 }
/** Rounds in which signs are chosen. */
const ROUNDS = 6

/** Lambda channels of which one is another's copy. */
export function copiedDoubts(runs: readonly RunColumns[], { name }: Ground): Doubt[] {
  const ids = runs.filter((run) => isCopied(run)).map((run) => run.id)
  return ids.length
    ? [
        {
          kind: 'probe copied',
          runs: ids,
          text: `In ${named(ids, name, runs.length)} two lambda channels read the very same, row by row: one is the other's copy. Cylinders are not told apart; map one of them, or find the wiring.`,
          offer: null,
        },
      ]
    : []
}

function isCopied({ lambda, handRange }: RunColumns): boolean {
  if (lambda.length < 2 || handRange) return false
  return lambda.slice(1).some((column, k) => {
    const before = lambda[k]!
    let [same, known] = [0, 0]
    let isFlat = true
    for (let i = 0; i < column.length; i++) {
      if (!(column[i]! > 0 && before[i]! > 0)) continue
      known++
      if (column[i] === before[i]) same++
      if (column[i] !== column[0]) isFlat = false
    }
    return known >= COPY.least && !isFlat && same >= COPY.share * known
  })
}

/** Probes of two cylinders that were exchanged in some of the files. */
export function exchangedDoubts(sweeps: readonly Laid[], { name }: Ground): Doubt[] {
  const difference = (one: Laid, bin: number): number => {
    const lambda = one.bins.get(bin)?.lambda
    return lambda && lambda.length === 2 ? lambda[0]! - lambda[1]! : NaN
  }
  const runs = [...new Set(sweeps.map((one) => one.id))]
  if (runs.length < 2) return []
  // Differences of the cylinders by stop and bin, each with the run it was read in.
  const cells = stopGroups(sweeps).flatMap((group) => {
    const bins = new Set(group.flatMap((one) => [...one.bins.keys()]))
    return [...bins].flatMap((bin) => {
      const own = group.flatMap((one) => {
        const value = difference(one, bin)
        return value === value ? [{ run: one.id, value }] : []
      })
      return own.length > 1 ? [own] : []
    })
  })
  if (cells.length === 0) return []
  const signs = new Map(runs.map((run) => [run, 1]))
  const spread = (): number => {
    const squares = cells.flatMap((cell) => {
      const values = cell.map(({ run, value }) => signs.get(run)! * value)
      const mean = values.reduce((sum, one) => sum + one, 0) / values.length
      return values.map((one) => (one - mean) ** 2)
    })
    return Math.sqrt(squares.reduce((sum, one) => sum + one, 0) / squares.length)
  }
  const before = spread()
  if (before < EXCHANGED.least) return []
  for (let round = 0; round < ROUNDS; round++) {
    const was = spread()
    for (const run of runs) {
      const now = spread()
      signs.set(run, -signs.get(run)!)
      if (spread() >= now) signs.set(run, -signs.get(run)!)
    }
    if (spread() >= was) break
  }
  const turned = runs.filter((run) => signs.get(run)! < 0)
  const fewer = 2 * turned.length > runs.length ? runs.filter((run) => signs.get(run)! > 0) : turned
  if (fewer.length === 0 || spread() * EXCHANGED.lessens > before) return []
  return [
    {
      kind: 'probes exchanged',
      runs: fewer,
      text: `These logs agree if probes 1 and 2 are exchanged in ${named(fewer, name)}: the cylinders differ one way there and the other way elsewhere, by ${plain(100 * before, 1)} % against ${plain(100 * spread(), 1)} % once exchanged. Look at which plug sits in which pipe.`,
      offer: { label: 'Exchange 1 and 2 there', readAs: { exchanged: true } },
    },
  ]
}

/** Drift over all runs that is named (ln), and how unlikely it must be by chance. */
const DRIFT = { least: 0.014, chance: 2e-4, freedom: 3 }

/** Repeats that step or drift with time: a probe that ages, or is dirty. */
export function driftDoubts(sweeps: readonly Laid[], { name }: Ground): Doubt[] {
  const levels = stopGroups(sweeps).flatMap((group) => {
    if (group.length < 2) return []
    const off = departures(group, (bin) => meanOf(bin.lambda))
    const [level, order] = [
      median(off.map((one) => one.level)),
      off.reduce((sum, one) => sum + one.sweep.order, 0) / off.length,
    ]
    return off.map((one) => ({
      id: one.sweep.id,
      at: one.sweep.order,
      x: one.sweep.order - order,
      y: ((one.level - level) * (group.length - 1)) / group.length,
      group: group[0]!.stop,
    }))
  })
  const free = levels.length - new Set(levels.map((one) => one.group)).size - 1
  if (free < DRIFT.freedom) return []
  const slopeOf = (pick: (one: (typeof levels)[number]) => number): { size: number; chance: number } => {
    const own = levels.map((one) => ({ x: pick(one), y: one.y, group: one.group }))
    const centred = own.map((one) => {
      const mates = own.filter((other) => other.group === one.group)
      const mean = (of: 'x' | 'y'): number => mates.reduce((sum, other) => sum + other[of], 0) / mates.length
      return { x: one.x - mean('x'), y: one.y - mean('y') }
    })
    const xx = centred.reduce((sum, one) => sum + one.x ** 2, 0)
    if (xx === 0) return { size: 0, chance: 1 }
    const slope = centred.reduce((sum, one) => sum + one.x * one.y, 0) / xx
    const left = centred.reduce((sum, one) => sum + (one.y - slope * one.x) ** 2, 0)
    const error = Math.sqrt(left / free / xx)
    return { size: slope, chance: error > 0 ? studentTail(slope / error, free) : 0 }
  }
  const orders = levels.map((one) => one.at)
  const range = Math.max(...orders) - Math.min(...orders)
  const drift = slopeOf((one) => one.at)
  const total = drift.size * range
  if (Math.abs(total) >= DRIFT.least && drift.chance < DRIFT.chance)
    return [
      {
        kind: 'probe drifts',
        runs: [],
        text: `Repeats read ever ${total > 0 ? 'leaner' : 'richer'}: ${signed(100 * total)} % from the first run to the last. A probe that ages or gets dirty does that. Check it in free air and run the first stop again; until then figures are off by up to that much.`,
        offer: null,
      },
    ]
  // A step: every place it may be at, so that chance is counted by their number.
  const places = [...new Set(orders)].sort((a, b) => a - b).slice(1)
  const steps = places.map((place) => ({ place, ...slopeOf((one) => (one.at >= place ? 1 : 0)) }))
  const best = steps.reduce<(typeof steps)[number] | null>((a, b) => (a && a.chance <= b.chance ? a : b), null)
  if (!best || Math.abs(best.size) < DRIFT.least || best.chance * places.length > DRIFT.chance) return []
  const from = levels.find((one) => one.at === best.place)!
  return [
    {
      kind: 'probe drifts',
      runs: [],
      text: `From "${name(from.id)}" on repeats read ${signed(100 * best.size)} % ${best.size > 0 ? 'leaner' : 'richer'} than before. A probe that took a knock, another gauge, or something that was changed does that. Check it in free air, and put what came after a change into a set of its own.`,
      offer: null,
    },
  ]
}

const meanOf = (lambda: readonly number[]): number => {
  const known = lambda.filter((one) => one === one)
  return known.length ? known.reduce((sum, one) => sum + one, 0) / known.length : NaN
}

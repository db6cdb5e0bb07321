import { plain } from '../numbers/format'
import type { RunColumns } from '../run/run'
import type { Doubt, Ground } from './doubt'
import type { BinnedSweep } from './binnedSweep'
import { stopGroups } from './departures'
import { named } from './named'

/** Share of rows on which two channels read the very same, and rows at the least. */
const COPY = { share: 0.995, least: 100 }
/** Departure (ln) between files that exchanging must explain, and how many times it must lessen it. */
const EXCHANGED = { least: 0.012, lessens: 2.5 }
/** Rounds in which signs are chosen. */
const ROUNDS = 6

/** Lambda channels of which one is another's copy. */
export function copiedDoubts(runs: readonly RunColumns[], { names }: Ground): Doubt[] {
  const ids = runs.filter((run) => isCopied(run)).map((run) => run.id)
  return ids.length
    ? [
        {
          kind: 'probe copied',
          runs: ids,
          text: `In ${named(ids, names, runs.length)} two lambda channels read the very same, row by row: one is the other's copy. Cylinders are not told apart; map one of them, or find the wiring.`,
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
export function exchangedDoubts(sweeps: readonly BinnedSweep[], { names }: Ground): Doubt[] {
  const difference = (one: BinnedSweep, bin: number): number => {
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
      text: `These logs agree if probes 1 and 2 are exchanged in ${named(fewer, names)}: the cylinders differ one way there and the other way elsewhere, by ${plain(100 * before, 1)} % against ${plain(100 * spread(), 1)} % once exchanged. Look at which plug sits in which pipe.`,
      offer: { label: 'Exchange 1 and 2 there', readAs: { exchanged: true } },
    },
  ]
}

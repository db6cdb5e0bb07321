import { isRunning } from './engineState'
import { median } from '../numbers/median'
import type { RunColumns } from './run'

/** Which probe (lambda1, lambda2 and so on) sits in the gas of which cylinder; both from 1. */
export interface PlacedProbe {
  probe: number
  cylinder: number
}

/**
 * The probe that stands for each cylinder, by cylinder: the first in its gas. Further probes in one gas check it and are
 * no cylinders of their own.
 *
 * @returns null when nothing was said: each probe stands for its own cylinder
 * @example
 * standingProbes([{ probe: 1, cylinder: 1 }, { probe: 2, cylinder: 1 }]) // [1]
 */
export function standingProbes(placed: readonly PlacedProbe[] | undefined): number[] | null {
  if (!placed?.length) return null
  const first = new Map<number, number>()
  for (const { probe, cylinder } of [...placed].sort((a, b) => a.probe - b.probe))
    if (!first.has(cylinder)) first.set(cylinder, probe)
  return [...first].sort((a, b) => a[0] - b[0]).map(([, probe]) => probe)
}

/** A run with one lambda column a cylinder; as it is when it has fewer probes than were placed. */
export function byCylinder(run: RunColumns, standing: readonly number[] | null | undefined): RunColumns {
  if (!standing) return run
  const lambda = standing.flatMap((probe) => run.lambda[probe - 1] ?? [])
  return lambda.length === standing.length ? { ...run, lambda } : run
}

/** Two probes in one gas against each other. */
export interface ProbeCheck {
  first: number
  second: number
  samples: number
  /** median of first over second - 1, %, and half the width that holds two thirds of it */
  differencePct: number
  spreadPct: number
  /** within what two good probes differ by */
  agree: boolean
  /** the one that is off, where a closed loop at lambda 1 tells; null where nothing does */
  off: number | null
}

/** Two good probes in one gas differ by less, %; common practice. */
const GOOD = 1.5
const LEAST_SAMPLES = 50

/**
 * Checks two probes in one gas against each other, over all readings that both have.
 *
 * @returns null when there are too few readings
 */
export function crossCheck(runs: readonly RunColumns[], first: number, second: number): ProbeCheck | null {
  const ratio: number[] = []
  const held: [number[], number[]] = [[], []]
  for (const run of runs) {
    const [one, other] = [run.lambda[first - 1], run.lambda[second - 1]]
    if (!one || !other) continue
    for (let i = 0; i < one.length; i++) {
      const [a, b] = [one[i]!, other[i]!]
      if (!(a > 0 && b > 0 && isRunning(run.rpm[i]!))) continue
      ratio.push(100 * (a / b - 1))
      // A closed loop that works holds lambda 1, whatever a probe says.
      if (run.trimShort && Math.abs(run.trimShort[i]!) > 0) {
        held[0].push(a)
        held[1].push(b)
      }
    }
  }
  if (ratio.length < LEAST_SAMPLES) return null
  const differencePct = median(ratio)
  const spreadPct = median(ratio.map((one) => Math.abs(one - differencePct))) * 1.4826
  const agree = Math.abs(differencePct) <= GOOD
  const from1 = held.map((some) => (some.length >= LEAST_SAMPLES ? Math.abs(median(some) - 1) : NaN)) as [
    number,
    number,
  ]
  const off = agree || Number.isNaN(from1[0]) || from1[0] === from1[1] ? null : from1[0] > from1[1] ? first : second
  return { first, second, samples: ratio.length, differencePct, spreadPct, agree, off }
}

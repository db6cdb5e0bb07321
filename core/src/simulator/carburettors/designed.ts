import type { Fitted } from '../../jetting/carburettor'
import { targetAt, type CircuitTarget } from '../../jetting/model/targets'
import type { Random } from '../../numbers/random'

/** Fuel over air by circuit: as a ratio both have a scale that only their maker knew. */
export const OPENINGS = [0.05, 0.1, 0.15, 0.2, 0.3, 0.4, 0.6, 0.8, 1]
export const PRESSURES = [0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1]

export type Circuits = (fitted: Fitted, rpm: number, opening: number) => { main: number; pilot: number }

/** How a maker has set a carburettor up: what is usual in it, and the pilot's share of the fuel at the smallest opening. */
export interface Design {
  usual: Fitted
  pilotShare: number
  openings: readonly number[]
  speeds: readonly number[]
}

/** What its maker was after with what is usual in it: its target but for some percent that wander over the openings, as drawn. */
export function wantedBy(targets: readonly CircuitTarget[], random: Random): (opening: number) => number {
  const waves = [1, 2, 3].map((k) => ({ k, size: (0.035 / k) * random.normal(), phase: 6.3 * random.uniform() }))
  return (opening) =>
    targetAt(targets, opening).lambda *
    Math.exp(waves.reduce((sum, { k, size, phase }) => sum + size * Math.sin(2.5 * k * opening + phase), 0))
}

/** Mean lambda over the speeds, scaled as its maker did: right wide open with what is usual, and the pilot's share at the smallest opening. */
export function lambdaOf(
  circuits: Circuits,
  { usual, pilotShare, openings, speeds }: Design,
  wanted: (opening: number) => number,
): (fitted: Fitted, opening: number) => number {
  const meanOf = (of: (rpm: number) => number): number =>
    Math.exp(speeds.reduce((sum, rpm) => sum + Math.log(of(rpm)), 0) / speeds.length)
  const [least, most] = [openings[0]!, openings.at(-1)!]
  const mean = (which: 'main' | 'pilot', opening: number): number =>
    meanOf((rpm) => Math.max(1e-12, circuits(usual, rpm, opening)[which]))
  const share = pilotShare * (wanted(most) / wanted(least))
  const ratio = (share * mean('main', most)) / (mean('pilot', least) - share * mean('pilot', most))
  const fuel = (fitted: Fitted, opening: number): number =>
    meanOf((rpm) => {
      const { main, pilot } = circuits(fitted, rpm, opening)
      return main + ratio * pilot
    })
  const level = wanted(most) * fuel(usual, most)
  return (fitted, opening) => level / fuel(fitted, opening)
}

/** The same where the maker met what was wanted at every opening, by means that nobody sees: bleeds, holes, a cam. */
export function trimmed(
  lambda: (fitted: Fitted, opening: number) => number,
  usual: Fitted,
  wanted: (opening: number) => number,
): (fitted: Fitted, opening: number) => number {
  return (fitted, opening) => (wanted(opening) * lambda(fitted, opening)) / lambda(usual, opening)
}

import { area } from 'd3'
import type { JettingPresent } from '@yuzumix/core'

type Share = JettingPresent['shares'][number]

/** Paths of what each circuit gives, side by side along the opening. */
export function circuitAreas(
  shares: readonly Share[],
  x: (share: number) => number,
  y: (opening: number) => number,
): { id: 'pilot' | 'needle' | 'main'; path: string }[] {
  const between = (from: (one: Share) => number, to: (one: Share) => number): string =>
    area<Share>()
      .x0((one) => x(from(one)))
      .x1((one) => x(to(one)))
      .y((one) => y(one.opening))([...shares]) ?? ''
  const pilot = (one: Share): number => one.pilot
  const beforeMain = (one: Share): number => one.pilot + one.needle
  return [
    { id: 'pilot', path: between(() => 0, pilot) },
    { id: 'needle', path: between(pilot, beforeMain) },
    { id: 'main', path: between(beforeMain, () => 1) },
  ]
}

import { plain, USUAL_RAIL, type ControllerWays } from '@yuzumix/core'

/** Points, bands and speeds that this controller has room for. */
const MOST = { coarse: 6, bands: 3, strips: 16 }

/** What this controller does not take of a setting, in words; null for what it takes. */
export function wayFault<K extends keyof ControllerWays>(kind: K, settings: ControllerWays[K]): string | null {
  const has = (what: string, count: number, most: number): string | null =>
    count > most ? `It has room for ${most} ${what}, not for ${count}.` : null
  const of: { [Kind in keyof ControllerWays]: (one: ControllerWays[Kind]) => string | null } = {
    coarse: ({ rpm, load }) => has('speeds', rpm.length, MOST.coarse) ?? has('loads', load.length, MOST.coarse),
    bands: ({ values }) => has('bands', values.length, MOST.bands),
    strips: ({ rpm }) => has('speeds', rpm.length, MOST.strips),
    global: () => null,
    pressure: ({ kPa }) =>
      kPa >= 150 && kPa <= USUAL_RAIL.pumpKpa ? null : `${plain(kPa, 0)} kPa are outside 150 to ${USUAL_RAIL.pumpKpa}.`,
  }
  return of[kind](settings)
}

/** Atoms of a fuel molecule CxHyOz (means of a mixture may be fractional). */
export interface Composition {
  c: number
  h: number
  o: number
}

const MASS = { c: 12.011, h: 1.008, o: 15.999 } as const

/** Dry air as 1 O2 + 3.773 N2 by mole, "atmospheric nitrogen" of 28.16 g/mol (Heywood, ch. 3). */
const AIR_PER_O2 = 2 * MASS.o + 3.773 * 28.16

/**
 * Stoichiometric air-fuel ratio by mass of CxHyOz burnt in dry air.
 *
 * @param atoms atoms per molecule; `c + h` above zero, none negative
 * @returns kg air per kg fuel
 * @throws RangeError when the composition cannot burn
 * @see Heywood, Internal Combustion Engine Fundamentals, ch. 3, eq. 3.6
 * @example
 * // Isooctane: about 15.1.
 * stoichiometricAfr({ c: 8, h: 18, o: 0 }).toFixed(1) // '15.1'
 */
export function stoichiometricAfr({ c, h, o }: Composition): number {
  const oxygen = c + h / 4 - o / 2
  if (!(c >= 0 && h >= 0 && o >= 0 && oxygen > 0)) {
    throw new RangeError(`A fuel of C${c} H${h} O${o} needs no oxygen; give atoms that can burn.`)
  }
  return (oxygen * AIR_PER_O2) / (c * MASS.c + h * MASS.h + o * MASS.o)
}

/**
 * Fuel film on the port wall. A share X of what is injected lands on the wall. It leaves the wall with the time constant tau. So
 * an engine runs lean for a moment when the throttle opens quickly: the film has to grow first.
 *
 * @see Aquino, SAE 810494 (the X-tau model)
 */
export interface WallFilm {
  /** mg on the wall */
  mass: number
  share: number
  /** s */
  tau: number
}

/** One cycle: takes the fuel injected, returns the fuel that enters the cylinder, mg. */
export function filmCycle(film: WallFilm, injected: number, cycleSeconds: number): number {
  const leaving = film.mass * (1 - Math.exp(-cycleSeconds / film.tau))
  film.mass += film.share * injected - leaving
  return (1 - film.share) * injected + leaving
}

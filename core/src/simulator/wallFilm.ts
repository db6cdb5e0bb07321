/**
 * Fuel film on the port wall: a share X of what is injected lands on the wall and leaves it with time constant tau, so
 * a quickly opened throttle runs lean until the film has grown.
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

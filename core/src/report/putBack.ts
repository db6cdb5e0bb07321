import type { NewPutBack, PutBack } from '../contract/jobLines'

/** What is often changed only for the session, to begin a line from. */
export const USUAL_PUT_BACKS: readonly NewPutBack[] = [
  { what: 'Fan-on temperature', was: 'as found', now: 'earlier', due: 'hand-over' },
  { what: 'Oxygen sensor plug', was: 'plugged in', now: 'unplugged', due: 'hand-over' },
  { what: 'Secondary air', was: 'connected', now: 'blanked for measuring', due: 'hand-over' },
  { what: 'Exhaust valve', was: 'moves', now: 'held open', due: 'hand-over' },
  { what: 'Evaporation valve', was: 'connected', now: 'disconnected', due: 'hand-over' },
  { what: 'Ride mode', was: 'as the rider had it', now: 'full power', due: 'road' },
  { what: 'Map slot', was: 'as found', now: 'the other', due: 'hand-over' },
  { what: 'Traction control', was: 'on', now: 'off for the drum', due: 'road' },
  { what: 'Tyre', was: "the rider's own", now: 'an old one for the drum', due: 'road' },
  { what: 'Panels', was: 'on', now: 'off', due: 'road' },
  { what: 'Header plug', was: 'in', now: 'probe in its place', due: 'hand-over' },
  { what: 'Charger', was: 'off', now: 'connected', due: 'road' },
  { what: 'Pick-up lead', was: 'none', now: 'clipped on', due: 'road' },
]

/** Lines that are neither back nor left so with somebody told. */
export function openPutBacks<Line extends Pick<PutBack, 'back' | 'leftSo'>>(lines: readonly Line[]): Line[] {
  return lines.filter((one) => !one.back && !one.leftSo)
}

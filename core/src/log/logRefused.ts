import { Refusal, type Fault } from '../refusal/refusal'

/** A log that cannot be read. The message says what, where and what to do. */
export const logRefused = (message: string, faults: readonly Fault[] = [{ message }]): Refusal =>
  new Refusal('no-log', message, faults)

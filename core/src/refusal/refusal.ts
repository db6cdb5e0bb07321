import type { Refused } from './codes'
import { REFUSALS } from './codes'

/** One thing at fault: what is wrong with it, and where it stands. Lines and columns from 1. */
export interface Fault {
  message: string
  field?: string
  line?: number
  column?: number
}

/** A fault of something that has a name. */
export interface FieldFault extends Fault {
  field: string
}

/**
 * Something that was asked for and is not done, whoever asked: what it is called by its code, and what, where and what to do in words.
 * Every other error is a fault of ours.
 */
export class Refusal extends Error {
  constructor(
    readonly code: Refused,
    message: string,
    readonly faults: readonly Fault[] = [],
    /** what a script may want of it, as the revision that was saved meanwhile */
    readonly more: Readonly<Record<string, unknown>> = {},
  ) {
    super(message)
    this.name = code
  }

  /** what it is called, over the message */
  get title(): string {
    return REFUSALS[this.code]
  }
}

/**
 * A refusal of one thing.
 *
 * @param field where it stands
 * @example
 * throw refused('no-field', 'These runs have no lambda.', 'runs')
 */
export const refused = (code: Refused, message: string, field: string): Refusal =>
  new Refusal(code, message, [{ message, field }])

/** A refusal of input, by all that is at fault. */
export const inputRefused = (faults: readonly FieldFault[]): Refusal =>
  new Refusal(
    'input-refused',
    `${faults.map(({ field, message }) => `${field} ${message}`.replace(/\.$/, '')).join('; ')}.`,
    faults,
  )

/** Whether an error is a refusal, of one of some codes where they are named. */
export const isRefusal = (error: unknown, ...codes: readonly Refused[]): error is Refusal =>
  error instanceof Refusal && (codes.length === 0 || codes.includes(error.code))

/** What a try comes to, or null where it is refused so. Other errors go on. */
export async function unlessRefused<T>(work: () => T | Promise<T>, ...codes: readonly Refused[]): Promise<T | null> {
  try {
    return await work()
  } catch (error) {
    if (isRefusal(error, ...codes)) return null
    throw error
  }
}

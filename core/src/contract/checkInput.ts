import { inputRefused } from '../refusal/refusal'
import { BODY_LIMITS, refuseTooMuch } from './amountOfInput'
import { ValidationError, type InferType, type ISchema } from 'yup'

/** A schema as far as checking needs it: also one that is chosen by the value. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any
type Checkable = ISchema<any> & { validateSync(value: unknown, options: object): unknown }

/**
 * Checks input against a schema. Nothing is coerced; unknown fields are refused by name.
 *
 * @param limits of what it may hold
 * @throws Refusal 'input-refused' with every field at fault
 * @example
 * const { title } = checkInput(newJobSchema, request.body)
 */
export function checkInput<S extends Checkable>(schema: S, raw: unknown, limits = BODY_LIMITS): InferType<S> {
  refuseTooMuch(raw, limits)
  return check(schema, raw, true)
}

/**
 * Checks the text parts of a form: numbers and booleans are read out of their text as the schema says.
 *
 * @throws Refusal 'input-refused' with every part at fault
 */
export function checkForm<S extends Checkable & { fields: object }>(
  schema: S,
  raw: Readonly<Record<string, unknown>>,
): InferType<S> {
  const unknown = Object.keys(raw).filter((part) => !(part in schema.fields))
  if (unknown.length) throw inputRefused(unknown.map((field) => ({ field, message: 'is not known here' })))
  return check(schema, raw, false)
}

function check<S extends Checkable>(schema: S, raw: unknown, strict: boolean): InferType<S> {
  try {
    return schema.validateSync(raw, { strict, abortEarly: false }) as InferType<S>
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error
    const inner = error.inner.length ? error.inner : [error]
    throw inputRefused(
      inner.flatMap((one) => {
        const unknown =
          one.type === 'noUnknown' ? ((one.params?.['unknown'] as string | undefined) ?? '').split(', ') : []
        const path = one.path ? `${one.path}.` : ''
        if (unknown.length)
          return unknown.map((name) => ({
            field: `${path}${name || 'a member without a name'}`,
            message: 'is not known here',
          }))
        return [
          {
            field: one.path || 'body',
            message: worded(one),
          },
        ]
      }),
    )
  }
}

/** What is wrong with a value, without its path; what the library says of its own kinds in the words of the trade. */
function worded({ type, path, params, message }: ValidationError): string {
  const said = message.replace(new RegExp(`^${escape(path ?? 'this')} `), '')
  if (type !== 'typeError' && type !== 'notType') return said
  const { type: kind = '' } = (params ?? {}) as { type?: string }
  return `must be ${NAMES_OF_KINDS[kind] ?? kind}`
}
const NAMES_OF_KINDS: Readonly<Record<string, string>> = {
  object: 'an object',
  array: 'a list',
  tuple: 'a list',
  number: 'a number',
  string: 'text',
  boolean: 'true or false',
}

const escape = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')

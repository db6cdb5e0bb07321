import { array, boolean, number, object, string, type ObjectShape, setLocale } from 'yup'

/** What a check says, in words of the trade: the library's own are those of a form. */
setLocale({
  mixed: { required: '${path} is missing', notType: '${path} is no ${type}', defined: '${path} is missing' },
  string: {
    min: ({ path, min }: { path: string; min: number }) =>
      min === 1 ? `${path} is missing` : `${path} is too short: ${min} characters at least`,
    max: '${path} is too long: ${max} characters at most',
  },
  number: {
    min: '${path} must be ${min} or more',
    max: '${path} must be ${max} or less',
    moreThan: '${path} must be above ${more}',
    integer: '${path} must be a whole number',
  },
})

/** The kinds of field that resources are made of. Nothing is coerced anywhere: a number in quotes is no number. */

/** Words that somebody typed. */
export const text = (most: number) => string().strict().trim().max(most)
/** Words as they are stored or answered; may be empty. */
export const words = (most = 10_000) => string().strict().max(most).defined()
/** A number that somebody sets, within limits. */
export const amount = (least: number, most: number) => number().strict().min(least).max(most)
/** A number that was measured or worked out. */
export const figure = () => number().strict().required()
/** The same, null where it is not known. */
export const knownFigure = () => number().strict().nullable().defined()
/** How many, or a place in a list. */
export const count = () => number().strict().integer().min(0).required()
export const yesNo = () => boolean().strict()
/** An id of something stored: opaque. */
export const id = () => string().strict().required()
/** One of some words. */
export const choice = <const Word extends string>(of: readonly Word[]) => string().strict().oneOf(of)
export const speed = () => amount(0, 30_000)
/** Members that are known; others are refused by name. */
export const closed = <Shape extends ObjectShape>(shape: Shape) => object(shape).noUnknown()

/** A moment as in ISO 8601. */
export const time = () =>
  string()
    .strict()
    .test(
      'time',
      ({ path }) => `${path} must be a time as in ISO 8601`,
      // Whether it may be null is said where it is used.
      (value) => value === undefined || value === null || !Number.isNaN(Date.parse(value)),
    )

const row = () => array().of(number().strict().required()).required()
const sparseRow = () => array().of(number().strict().nullable().defined()).required()
/** Numbers by rpm. */
export const figures = row
/** Numbers by rpm, null where nothing is known. */
export const knownFigures = sparseRow
/** Cells, `[load][rpm]`, load rising. */
export const matrix = () => array().of(row()).required().meta({ ref: 'Matrix' })
/** Cells, `[load][rpm]`, null where nothing is known. */
export const sparseMatrix = () => array().of(sparseRow()).required().meta({ ref: 'SparseMatrix' })

export const LOAD_AXES = ['throttle', 'manifold'] as const

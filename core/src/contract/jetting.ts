import { array, object, type InferType } from 'yup'
import {
  CARBURETTOR_KINDS,
  chokingNeedleIn,
  DEFAULT_BODY,
  EMPTY_BOX,
  type Body,
  type Box,
} from '../jetting/carburettor'
import { CHECKS } from '../jetting/checks'
import type { LoadAxis } from '../table/table'
import { JET_SCHEMES } from '../jetting/model/jetSizes'
import { needleFault, type Needle } from '../jetting/model/needle'
import { amount, choice, text } from './fields'
import {
  CIRCUIT_TARGETS,
  USUAL_TIP_IN,
  usualTargets,
  type CircuitTarget,
  type TipInTarget,
} from '../jetting/model/targets'

const name = (most: number) => text(most).min(1)
/** Carburettors of one machine. */
export const MOST_CARBURETTORS = 8
const sizes = () => array().of(amount(0, 2000).required()).max(200).required()

const bodySchema = object({
  kind: choice(CARBURETTOR_KINDS).required(),
  scheme: choice(JET_SCHEMES).required(),
  bore: amount(5, 80).required(),
  needleJet: amount(0.5, 10).required(),
  clips: amount(1, 15).integer().required(),
  groove: amount(0.1, 5).required(),
  screwIs: choice(['fuel', 'air']).required(),
  usualTurns: amount(0, 8).required(),
})
  .noUnknown()
  .required()

const needleSchema = object({
  name: name(40).required(),
  points: array()
    .of(
      object({ at: amount(0, 200).required(), diameter: amount(0.1, 10).required() })
        .noUnknown()
        .required(),
    )
    .max(40)
    .required(),
})
  .noUnknown()
  .required()
  .test(
    'tapers',
    ({ value }) => needleFault(value as Needle) ?? '',
    (value) => needleFault(value as Needle) === null,
  )

/** What lies in the box. */
export const boxSchema = object({
  main: sizes(),
  pilot: sizes(),
  cutaway: sizes(),
  springs: sizes(),
  needles: array().of(needleSchema).max(40).required(),
  rods: array()
    .of(
      object({ name: name(40).required(), cruise: amount(0, 10).required(), power: amount(0, 10).required() })
        .noUnknown()
        .required(),
    )
    .max(40)
    .required(),
})
  .noUnknown()
  .required()

/** A needle that would rule full throttle, in words; null for none. */
function chokingIn(value: unknown): string | null {
  const settings = value as { body?: Body; box?: Box } | null | undefined
  const isKnown = settings?.body && CARBURETTOR_KINDS.includes(settings.body.kind)
  return isKnown && settings.box?.needles ? chokingNeedleIn(settings.body!, settings.box) : null
}

/** What a job knows of its carburettors, kept with the job. */
export const jettingSchema = object({
  body: bodySchema,
  carburettors: array()
    .of(
      object({
        name: name(60).required(),
        /** cylinders or banks that it feeds, from 1 */
        cylinders: array().of(amount(1, 8).integer().required()).min(1).max(8).required(),
      })
        .noUnknown()
        .required(),
    )
    .min(1)
    .max(MOST_CARBURETTORS)
    .required(),
  box: boxSchema,
  checks: array()
    .of(choice(CHECKS.map((one) => one.id)).required())
    .max(CHECKS.length)
    .required(),
  /** wanted lambda by circuit, in the order of the usual ones */
  targets: array().of(amount(0.6, 1.2).required()).length(CIRCUIT_TARGETS.length).required(),
  tipIn: object({
    wanted: amount(0.5, 1.2).required(),
    lean: amount(0.5, 1.2).required(),
    rich: amount(0.5, 1.2).required(),
  })
    .noUnknown()
    .optional()
    .default(undefined)
    .test(
      'order',
      ({ path }) => `${path}: rich must be below what is wanted, and lean above it`,
      (value) => value === undefined || (value.rich! < value.wanted! && value.wanted! < value.lean!),
    )
    .meta({ description: 'absent for the usual ones' }),
})
  .noUnknown()
  .test(
    'choking',
    ({ value }) => chokingIn(value) ?? '',
    (value) => chokingIn(value) === null,
  )
  .nullable()
  .optional()
  .default(undefined)
  .meta({ ref: 'Carburettors', about: 'body, box of parts, checks done, targets by circuit' })

export type JettingSettings = NonNullable<InferType<typeof jettingSchema>>

export const DEFAULT_JETTING: JettingSettings = {
  body: DEFAULT_BODY,
  carburettors: [{ name: 'Carburettor', cylinders: [1] }],
  box: EMPTY_BOX,
  checks: [],
  targets: CIRCUIT_TARGETS.map((one) => one.lambda),
}

/** What a job wants at tip-in. */
export function tipInTarget({ tipIn }: JettingSettings): TipInTarget {
  return tipIn ?? USUAL_TIP_IN
}

/** Load axis by which a carburettor of that kind meters. */
export function carburettorAxis({ body }: JettingSettings): LoadAxis {
  return body.kind === 'metering rods' ? 'manifold' : 'throttle'
}

/** The targets of a job by circuit. */
export function circuitTargets({ targets, body }: JettingSettings): CircuitTarget[] {
  return usualTargets(body.kind).map((one, k) => ({ ...one, lambda: targets[k] ?? one.lambda }))
}

export const fittedSchema = object({
  main: amount(1, 2000),
  pilot: amount(1, 2000),
  needle: name(40),
  clip: amount(1, 15).integer(),
  screw: amount(0, 12),
  cutaway: amount(0, 10),
  spring: amount(0, 200),
  rod: name(40),
  high: amount(0, 12),
  low: amount(0, 12),
  floatHeight: amount(0, 60),
})
  .noUnknown()
  .required()

/** What is fitted in the carburettors while a set of runs is made, with what was predicted of it. */
export const fittingSchema = object({
  fitted: array().of(fittedSchema).min(1).max(MOST_CARBURETTORS).required(),
  reason: text(400).defined(),
  predicted: array()
    .of(
      array()
        .of(
          object({
            opening: amount(0, 1.1).required(),
            lambda: amount(0.2, 5).required(),
            low: amount(0.1, 5).required(),
            high: amount(0.2, 9).required(),
          })
            .noUnknown()
            .required(),
        )
        .max(100)
        .required(),
    )
    .max(MOST_CARBURETTORS)
    .nullable()
    .defined()
    .meta({ description: 'by carburettor; null where nothing was predicted' }),
})
  .noUnknown()
  .nullable()
  .optional()
  .default(undefined)
  .meta({ ref: 'Fitting', about: 'what is in the carburettors, why, and what was predicted of it' })

export type Fitting = NonNullable<InferType<typeof fittingSchema>>

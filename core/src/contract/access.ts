import { array, object, string, type InferType } from 'yup'
import { choice, closed, count, text, time, words, yesNo } from './fields'

/** What somebody who comes in from beyond this machine may do: all of it, or look on. */
const ROLES = ['work', 'watch'] as const
export type Role = (typeof ROLES)[number]

/** Answer of GET /access. */
export const accessSchema = closed({
  open: yesNo().required().meta({ description: 'the server listens beyond this machine' }),
  here: yesNo().required().meta({ description: 'this request came from the machine itself' }),
  role: choice(ROLES)
    .nullable()
    .defined()
    .meta({ description: 'what whoever asks may do; null until a passphrase or a code was told' }),
  hasPassphrase: yesNo().required(),
}).meta({ ref: 'Access' })
export type AccessState = InferType<typeof accessSchema>

const name = () =>
  text(120)
    .matches(
      /^[a-z0-9.:[\]-]+$/i,
      ({ path }) => `${path} must be the name or the address of this machine in the workshop's network`,
    )
    .required()
/** Answer of GET /access/sharing. */
export const sharingSchema = closed({
  names: array()
    .of(words(120).required())
    .required()
    .meta({ description: 'host names it answers to beyond this machine' }),
  sessions: array()
    .of(closed({ role: choice(ROLES).required(), since: time().required() }).required())
    .required(),
  addresses: array()
    .of(words(120).required())
    .required()
    .meta({ description: 'addresses of this machine in its networks' }),
}).meta({ ref: 'Sharing' })
export type Sharing = InferType<typeof sharingSchema>

const passphrase = () => string().strict().max(500).required()
export const enterSchema = closed({ passphrase: passphrase() }).meta({ ref: 'Enter' })
export const joinSchema = closed({ code: string().strict().max(100).required() }).meta({ ref: 'Join' })
export const passphraseSchema = closed({ passphrase: passphrase() }).meta({ ref: 'NewPassphrase' })
export const namesSchema = closed({ names: array().of(name()).max(20).required() }).meta({ ref: 'HostNames' })
export const newCodeSchema = closed({ role: choice(ROLES).required() }).meta({ ref: 'NewCode' })
/** A code that lets one more in, once. */
export const codeSchema = closed({
  code: words(40).required(),
  until: time().required(),
  address: words(300).required().meta({ description: 'to be opened on the other device' }),
  picture: words(100_000).required().meta({ description: 'the address as a QR code (ISO/IEC 18004), SVG' }),
}).meta({ ref: 'Code' })
export type JoinCode = InferType<typeof codeSchema>
export const leftSchema = closed({ left: count() }).meta({ ref: 'Left' })
export const nothingSchema = object({}).noUnknown()

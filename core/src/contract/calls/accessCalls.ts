import {
  accessSchema,
  codeSchema,
  enterSchema,
  joinSchema,
  leftSchema,
  namesSchema,
  newCodeSchema,
  nothingSchema,
  passphraseSchema,
  sharingSchema,
} from '../access'
import { get, post, put } from './call'

/** Who comes in from beyond this machine. */
export const accessCalls = {
  access: get('/access', 'Whether one is let in, and as what', { answer: accessSchema }),
  enter: post('/access/enter', 'records', 'Come in by the passphrase', {
    body: enterSchema,
    answer: accessSchema,
    problems: [401, 429],
  }),
  join: post('/access/join', 'records', 'Come in by a code that this machine shows', {
    body: joinSchema,
    answer: accessSchema,
    problems: [401, 429],
  }),
  leave: post('/access/leave', 'records', 'Be let in no more', { body: nothingSchema, answer: accessSchema }),
  leaveAll: post('/access/leave-all', 'records', 'Let nobody in any more who was let in before', {
    body: nothingSchema,
    answer: leftSchema,
  }),
  sharing: get('/access/sharing', 'Names it answers to, and who was let in', { answer: sharingSchema }),
  setPassphrase: put('/access/passphrase', 'records', 'Set the passphrase; from this machine only', {
    body: passphraseSchema,
    answer: accessSchema,
    status: 200,
  }),
  setNames: put('/access/names', 'records', 'Say which host names it answers to; from this machine only', {
    body: namesSchema,
    answer: sharingSchema,
    status: 200,
  }),
  makeCode: post('/access/codes', 'records', 'Make a code that lets one more in, once, for five minutes', {
    body: newCodeSchema,
    answer: codeSchema,
  }),
}

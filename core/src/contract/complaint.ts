import { type InferType } from 'yup'
import { amount, choice, closed, id, text, time, yesNo } from './fields'

export const COMPLAINT_WORDS = [
  'hesitates',
  'snatchy',
  'flat spot',
  'hunts',
  'hot',
  'surges',
  'stalls',
  'other',
] as const
export const FOUND = ['mixture error', 'hole', 'loop edge', 'misfire', 'nothing measured', 'nothing wrong'] as const
export const RIDER_SAYS = ['gone', 'better', 'same', 'worse'] as const

const where = () => amount(-1e6, 1e6).nullable()
const complaintFields = {
  word: choice(COMPLAINT_WORDS).required(),
  text: text(500),
  fromRpm: where().meta({ description: 'from 0 to the rev ceiling; null where it is not said' }),
  toRpm: where(),
  fromThrottle: where().meta({ description: 'throttle or grip, 0 to 100 %' }),
  toThrottle: where(),
  gear: amount(1, 12).integer().nullable(),
  temperature: choice(['hot', 'cold']).nullable(),
}
/** Body of POST /jobs/:job/complaints. */
export const newComplaintSchema = closed(complaintFields).meta({ ref: 'NewComplaint' })
/** What is added to a complaint as it is answered. */
const answerFields = {
  found: choice(FOUND).nullable(),
  done: text(500).nullable().meta({ description: 'what was done about it' }),
  riderSays: choice(RIDER_SAYS).nullable(),
  leftOpen: yesNo().meta({ description: 'handed over without an answer, knowingly' }),
}
/** Body of PATCH /jobs/:job/complaints/:complaint. */
export const complaintChangeSchema = closed({
  ...complaintFields,
  word: choice(COMPLAINT_WORDS),
  ...answerFields,
}).meta({
  ref: 'ComplaintChange',
})

export type NewComplaint = InferType<typeof newComplaintSchema>
export type ComplaintChange = InferType<typeof complaintChangeSchema>

/** A complaint of the rider, pinned to where it is felt, with its answer. */
export const complaintSchema = closed({ id: id(), at: time().required(), ...complaintFields, ...answerFields }).meta({
  ref: 'Complaint',
})
export type Complaint = InferType<typeof complaintSchema>

const finding = closed({
  state: text(400).required().meta({ description: 'set of runs that it is judged by' }),
  found: choice(FOUND).required(),
  said: text(400).required(),
})
/** Answer of GET /jobs/:job/complaint-findings: what was measured where a complaint is pinned. */
export const complaintFindingSchema = closed({
  complaint: id(),
  then: finding
    .nullable()
    .defined()
    .meta({ description: 'in the state that it was about; null where nothing was measured' }),
  now: finding.nullable().defined().meta({ description: 'in the last state; null where that is the same one' }),
}).meta({ ref: 'ComplaintFinding' })
export type FoundThere = InferType<typeof complaintFindingSchema>

import { complaintChangeSchema, complaintSchema, newComplaintSchema } from '../complaint'
import { jobSchema } from '../job'
import {
  newPutBackSchema,
  newRigLineSchema,
  putBackChangeSchema,
  putBackSchema,
  rigLineChangeSchema,
  rigLineSchema,
} from '../jobLines'
import { reportSchema, savedReportSchema } from '../report'
import { del, get, list, make, patch, post } from './call'
import { object } from 'yup'

/** Who reads a report, and in which units. */
const READER = {
  'for?': 'customer, or workshop: with where each figure stands',
  'state?': 'of a two-state part that it speaks of; all when left out',
  'power?': 'kW, hp or PS',
  'torque?': 'N·m or lb·ft',
  'mixture?': 'lambda or AFR',
}

const noBody = () => object({}).noUnknown()

/** Taking a job in, rigging it, handing it over. */
export const handlingCalls = {
  complaints: get('/jobs/{job}/complaints', 'What the rider complains of, pinned to where it is felt', {
    answer: list(complaintSchema),
  }),
  addComplaint: make('/jobs/{job}/complaints', 'records', 'Pin a complaint; 422 outside 0 to the rev ceiling', {
    body: newComplaintSchema,
    answer: complaintSchema,
    problems: [409, 422],
  }),
  changeComplaint: patch('/jobs/{job}/complaints/{complaint}', 'records', 'Change a complaint, or answer it', {
    body: complaintChangeSchema,
    answer: complaintSchema,
    problems: [409, 422],
  }),
  deleteComplaint: del('/jobs/{job}/complaints/{complaint}', 'records', 'Take a complaint back', { problems: [409] }),
  rig: get('/jobs/{job}/rig', 'The rig list: made from the job, own lines, and those kept from like machines', {
    answer: list(rigLineSchema),
  }),
  addRigLine: make('/jobs/{job}/rig', 'records', 'Add a line of your own; it is offered for the next like machine', {
    body: newRigLineSchema,
    answer: rigLineSchema,
    problems: [409],
  }),
  tickRigLine: patch('/jobs/{job}/rig/{line}', 'records', 'Tick a line, or take the tick back', {
    body: rigLineChangeSchema,
    answer: rigLineSchema,
    problems: [409],
  }),
  putBack: get('/jobs/{job}/put-back', 'What was changed only for the session', { answer: list(putBackSchema) }),
  notePutBack: make('/jobs/{job}/put-back', 'records', 'Note something that has to be put back', {
    body: newPutBackSchema,
    answer: putBackSchema,
    problems: [409],
  }),
  settlePutBack: patch('/jobs/{job}/put-back/{line}', 'records', 'It is back; or it was left so, and who was told', {
    body: putBackChangeSchema,
    answer: putBackSchema,
    problems: [409],
  }),
  reportJson: get('/jobs/{job}/report.json', 'The report as it stands, each figure with where it comes from', {
    query: { 'state?': READER['state?'] },
    answer: reportSchema,
  }),
  reportHtml: get('/jobs/{job}/report.html', 'The same as one page that needs nothing else', {
    query: READER,
    answer: 'text/html',
  }),
  reportPdf: get('/jobs/{job}/report.pdf', 'The same for paper', {
    query: { ...READER, 'paper?': 'A4, or letter' },
    answer: 'application/pdf',
  }),
  reports: get('/jobs/{job}/reports', 'Reports that were saved', { answer: list(savedReportSchema) }),
  report: get('/jobs/{job}/reports/{report}', 'A report as it was saved, by its number', { answer: reportSchema }),
  saveReport: make('/jobs/{job}/reports', 'records', 'Save the report as a revision of the job', {
    body: noBody(),
    answer: savedReportSchema,
    problems: [409],
  }),
  handOver: post('/jobs/{job}/done', 'records', 'Hand the job over; 409 names what is open', {
    answer: jobSchema,
    problems: [409],
  }),
  reopen: post('/jobs/{job}/reopen', 'records', 'Open a job that was handed over', {
    answer: jobSchema,
    problems: [409],
    opensAgain: true,
  }),
}

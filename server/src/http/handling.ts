import { changeComplaint, listComplaints, pinComplaint, takeBackComplaint } from '../acts/handling/complaints'
import { listPutBack, notePutBack, settlePutBack } from '../acts/handling/putBack'
import { addRigLine, listRig, tickRigLine } from '../acts/handling/rigLines'
import type { Workshop } from '../acts/questions/ask'
import type { Handlers } from './handlers'

/** Taking a job in, rigging it, and what has to be put back. */
export const handlingHandlers = ({ store }: Workshop) =>
  ({
    complaints: async ({ job }) => listComplaints(store, (await job()).id),
    addComplaint: async ({ job, body }) => pinComplaint(store, await job(), body),
    changeComplaint: async ({ job, at, body }) => changeComplaint(store, await job(), at.complaint, body),
    deleteComplaint: async ({ job, at }) => takeBackComplaint(store, (await job()).id, at.complaint),
    rig: async ({ job }) => listRig(store, await job()),
    addRigLine: async ({ job, body }) => addRigLine(store, await job(), body),
    tickRigLine: async ({ job, at, body }) => tickRigLine(store, await job(), at.line, body.done),
    putBack: async ({ job }) => listPutBack(store, (await job()).id),
    notePutBack: async ({ job, body }) => notePutBack(store, (await job()).id, body),
    settlePutBack: async ({ job, at, body }) => settlePutBack(store, (await job()).id, at.line, body),
  }) satisfies Partial<Handlers>

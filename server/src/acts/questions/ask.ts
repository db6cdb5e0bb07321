import {
  fieldQuestion,
  runsNeeded,
  QUESTIONS,
  type AnswerOf,
  type Doubt,
  type Field,
  type FieldAsked,
  type Job,
  type JobGround,
  type Loader,
  type QuestionKind,
  type QuestionOf,
  type RunInfo,
} from '@yuzumix/core'
import type { WorkPool } from '../../pool/pool'
import type { Remembered } from '../../pool/remembered'
import type { Store } from '../../store/database'
import { storedColumns } from '../../store/columns'
import { listRuns } from '../../store/runs'
import { listSets } from '../../store/sets'
import { listTables } from '../../store/tables'
import { findRevision, tableHistories } from '../../store/revisions'
import { listComplaints } from '../handling/complaints'

/** What computes on stored runs. */
export interface Workshop {
  store: Store
  pool: WorkPool
  /** questions answered lately: report, verdict and stages ask the same ones */
  answers: Remembered<unknown>
  /** what was in doubt of runs looked over lately */
  doubts: Remembered<Doubt[]>
}

/** What the questions of a job stand on, as it is stored now. */
export async function groundOf(store: Store, job: Job): Promise<JobGround> {
  const [sets, runs, tables, complaints] = await Promise.all([
    listSets(store, job.id),
    listRuns(store, job.id),
    listTables(store, job.id),
    listComplaints(store, job.id),
  ])
  return { job, sets, runs, tables, complaints }
}

/** Brings older states of a job's tables out of the store. */
export const loaderOf = (store: Store): Loader => ({
  revision: async (job, table, n) => (await findRevision(store, job, table, n))?.table ?? null,
  histories: (job, since) => tableHistories(store, job, since),
})

/** The answer to a question: worked out in a thread, or what was answered to the same one lately. */
export function ask<K extends QuestionKind>(
  { store, pool, answers }: Workshop,
  kind: K,
  question: QuestionOf<K>,
  signal: AbortSignal,
): Promise<AnswerOf<K>> {
  // A run's columns hang on nothing but what is said of it in the question.
  return answers.ask([kind, question], async () => {
    const columns = await storedColumns(store, runsNeeded(kind, question), QUESTIONS[kind].purpose)
    return pool.ask({ kind, question, columns }, signal)
  }) as Promise<AnswerOf<K>>
}

/**
 * A field of a job as it is stored now.
 *
 * @throws Refusal 'no-field' when nothing can be estimated; InputError for a run that is not there
 */
export async function fieldFor(workshop: Workshop, job: Job, asked: FieldAsked, signal: AbortSignal): Promise<Field> {
  const { store } = workshop
  return ask(workshop, 'field', await fieldQuestion(await groundOf(store, job), loaderOf(store), asked), signal)
}

/** Runs that make the field of a job as it is stored now. */
export async function fieldRunsOf({ store }: Workshop, job: Job): Promise<RunInfo[]> {
  return (await fieldQuestion(await groundOf(store, job), loaderOf(store))).runs
}

import type { ColumnPurpose } from '../run/runColumns'
import type { RunInfo } from '../run/runInfo'
import { answerField, type FieldQuestion } from './fieldQuestion'
import { answerBeside, type BesideQuestion } from './besideQuestion'
import { answerAnswered, type AnsweredQuestion } from './answeredQuestion'
import { answerCompare, runsOfCompare } from './compareQuestion'
import type { ColumnsOf } from './ground'
import { answerJetting, type JettingQuestion } from './jettingQuestion'
import { answerLoop, type LoopQuestion } from './loopQuestion'
import { answerNextRun, type NextRunQuestion } from './nextRunQuestion'
import { answerPlate, answerResponse, type PlateQuestion, type ResponseQuestion } from './responseQuestion'
import { answerSpark, type SparkQuestion } from './sparkQuestion'
import { answerWays, type WaysQuestion } from './waysQuestion'

/** A kind of question: the columns it needs, of which runs, and how it is answered once they are at hand. */
interface Kind<Question, Answer> {
  purpose: ColumnPurpose
  runsOf(question: Question): readonly RunInfo[]
  answer(question: Question, columnsOf: ColumnsOf, onProgress?: (share: number) => void): Answer
}
const kind = <Question, Answer>(
  purpose: ColumnPurpose,
  runsOf: Kind<Question, Answer>['runsOf'],
  answer: Kind<Question, Answer>['answer'],
): Kind<Question, Answer> => ({ purpose, runsOf, answer })

const runsOfField = ({ runs, before }: FieldQuestion): RunInfo[] => [...runs, ...before.flat()]

/** Everything that is asked of runs. Page and server bring columns, each its own way, and answer by the same function. */
export const QUESTIONS = {
  field: kind('field', runsOfField, answerField),
  'next run': kind('field', ({ field }: NextRunQuestion) => runsOfField(field), answerNextRun),
  loop: kind(
    'field',
    ({ field, basis }: LoopQuestion) => [...runsOfField(field), ...(basis ? runsOfField(basis) : [])],
    answerLoop,
  ),
  jetting: kind('field', ({ fittings }: JettingQuestion) => fittings.flatMap((one) => one.field.runs), answerJetting),
  spark: kind(
    'spark',
    ({ runs, mixtureRuns, before, after }: SparkQuestion) => [...runs, ...mixtureRuns, ...before, ...after],
    answerSpark,
  ),
  ways: kind('field', ({ field }: WaysQuestion) => (field ? runsOfField(field) : []), answerWays),
  beside: kind('beside', ({ field }: BesideQuestion) => field.runs, answerBeside),
  answered: kind(
    'field',
    ({ before, after }: AnsweredQuestion) => [...runsOfField(before), ...runsOfField(after)],
    answerAnswered,
  ),
  compare: kind('curves', runsOfCompare, answerCompare),
  response: kind('response', ({ runs }: ResponseQuestion) => runs, answerResponse),
  plate: kind('response', ({ runs }: PlateQuestion) => runs, answerPlate),
}

export type QuestionKind = keyof typeof QUESTIONS
/** What a kind of question asks, and what it is answered. */
export type QuestionOf<K extends QuestionKind> = Parameters<(typeof QUESTIONS)[K]['answer']>[0]
export type AnswerOf<K extends QuestionKind> = ReturnType<(typeof QUESTIONS)[K]['answer']>

/** Runs whose columns a question needs, each once. */
export function runsNeeded<K extends QuestionKind>(asked: K, question: QuestionOf<K>): RunInfo[] {
  const { runsOf } = QUESTIONS[asked] as unknown as Kind<QuestionOf<K>, AnswerOf<K>>
  return [...new Map(runsOf(question).map((run) => [run.id, run])).values()]
}

/**
 * Answers a question.
 *
 * @param onProgress share that is done, where it takes long
 * @throws Refusal 'no-field', 'no-plate-table' and others as its kind does
 * @example
 * answerQuestion('field', await fieldQuestion(ground, loader), columnsOf)
 */
export function answerQuestion<K extends QuestionKind>(
  asked: K,
  question: QuestionOf<K>,
  columnsOf: ColumnsOf,
  onProgress?: (share: number) => void,
): AnswerOf<K> {
  const { answer } = QUESTIONS[asked] as unknown as Kind<QuestionOf<K>, AnswerOf<K>>
  return answer(question, columnsOf, onProgress)
}

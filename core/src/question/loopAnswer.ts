import type { LoopAnswer } from '../contract/loop'
import { fieldAnswer } from './fieldAnswer'
import { flatnessAnswer } from './flatnessAnswer'
import type { LoopQuestion, LoopTold } from './loopQuestion'

/** A step of the loop as the HTTP interface answers it. */
export function loopAnswer(
  { pass, set, tables, field: { runs } }: LoopQuestion,
  { field, note, step, proof }: LoopTold,
): LoopAnswer {
  return {
    pass,
    set,
    runs: runs.map((run) => run.id),
    field: field && fieldAnswer(field),
    note,
    flatness: field && flatnessAnswer(field),
    isFlat: step?.flatness.isFlat ?? false,
    changes: (step?.changes ?? []).map((change, k) => ({ table: tables[k]!.id, ...change })),
    proof,
  }
}

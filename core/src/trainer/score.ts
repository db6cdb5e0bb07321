import { plain } from '../numbers/format'
import { WORKSHOP_ACTS } from './acts'
import type { TrainerCase } from './cases'
import type { Diagnosis } from './diagnoses'
import type { Flatness } from './flatness'
import type { UnsafeStep } from './unsafe'

/** What somebody did with a case. */
export interface Attempt {
  diagnosis: Diagnosis
  /** workshop acts done, in order */
  acts: readonly string[]
  runs: number
  /** min on the rig, without the workshop's */
  rigMinutes: number
  unsafe: readonly UnsafeStep[]
  /** of the case's looks, which were done, in their order */
  looked: readonly boolean[]
  /** before anything was done, and at the end */
  before: Flatness
  after: Flatness
}

/** One line of the score. */
export interface ScoreLine {
  what: 'mixture' | 'diagnosis' | 'looked' | 'runs' | 'time' | 'safety'
  points: number
  most: number
  text: string
}

const MOST = { mixture: 30, diagnosis: 20, looked: 20, runs: 5, time: 10, safety: 15 }
/** Share of the diagnosis that a right guess earns: the rest is for having looked. */
const GUESSED = 0.25
/** Departures, runs and minutes that earn all points of their line, and those that earn none. */
const MIXTURE_RMS = [1, 5] as const
const RUNS = [14, 45] as const
const MINUTES = [45, 180] as const
const PER_UNSAFE = 5

function share(value: number, [all, none]: readonly [number, number]): number {
  return Math.min(1, Math.max(0, (none - value) / (none - all)))
}

/** Points for an attempt at a case, line by line; 100 at most. */
export function scoreAttempt(one: TrainerCase, attempt: Attempt): { points: number; lines: ScoreLine[] } {
  const { acts, after, before, unsafe } = attempt
  const right = attempt.diagnosis === one.diagnosis
  const workshop = acts.reduce((sum, id) => sum + (WORKSHOP_ACTS.find((act) => act.id === id)?.minutes ?? 0), 0)
  const minutes = attempt.rigMinutes + workshop
  const needless = acts.filter((id) => !one.cures.includes(id))
  const seen = attempt.looked.filter(Boolean).length / one.looks.length
  const missed = one.looks.filter((_, k) => !attempt.looked[k]).map((look) => look.text)
  const lines: ScoreLine[] = [
    {
      what: 'mixture',
      points: MOST.mixture * share(after.rms, MIXTURE_RMS),
      most: MOST.mixture,
      text: `off target by ${plain(after.rms, 1)} % RMS and ${plain(after.worst, 1)} % at worst in truth; it came in with ${plain(before.rms, 1)} % and ${plain(before.worst, 1)} %`,
    },
    {
      what: 'diagnosis',
      points: right ? MOST.diagnosis * (GUESSED + (1 - GUESSED) * seen) : 0,
      most: MOST.diagnosis,
      text: right ? (seen > 0.5 ? 'found' : 'found, but little was looked at: a guess') : 'something else was wrong',
    },
    {
      what: 'looked',
      points: MOST.looked * seen,
      most: MOST.looked,
      text: missed.length ? `not looked at: ${missed.join('; ')}` : 'all that an expert would have looked at',
    },
    {
      what: 'runs',
      points: attempt.runs > 0 ? MOST.runs * share(attempt.runs, RUNS) : 0,
      most: MOST.runs,
      text: `${attempt.runs} runs`,
    },
    {
      what: 'time',
      points: MOST.time * share(minutes, MINUTES),
      most: MOST.time,
      text: `${Math.round(minutes)} min, ${workshop} of them in the workshop${needless.length ? `; ${needless.length} of the acts needless` : ''}`,
    },
    {
      what: 'safety',
      points: Math.max(0, MOST.safety - PER_UNSAFE * unsafe.length),
      most: MOST.safety,
      text: unsafe.length ? `${unsafe.length} unsafe: ${unsafe[0]!.what}` : 'nothing unsafe',
    },
  ]
  return { points: Math.round(lines.reduce((sum, line) => sum + line.points, 0)), lines }
}

import { LOAD_UNITS } from '../table/table'
import type { ChangedPart } from '../contract/brief'
import type { Job } from '../contract/job'
import type { Verdict } from '../contract/verdict'
import type { Field } from '../field/field'
import { SERVICES, type PlanChoice } from '../plan/choice'
import { makePlan } from '../plan/makePlan'
import { counted, grouped, plain } from '../numbers/format'
import { measuredFlatness } from '../rig/flatness'

/** Runs from which data, not the parts, tell whether a retune is needed: one is never trusted (common practice). */
const CHECK_RUNS = 3
/** Percent off target from which the next level of service is needed; common practice. */
const NEXT_LEVEL = 3
/** Throttle, %, or pressure share from which a lean cell endangers the engine. */
const HIGH_LOAD = 70

const LEVEL = { 'base map check': 'base map', 'middle tune': 'middle', 'full work': 'full' } as const
const UNMEASURED = {
  'base map check':
    'All between the check runs, small openings, roll-ons, and each cylinder by itself where one probe serves several.',
  'middle tune': 'Rows between the stops are bridged, not run; holds and roll-ons.',
  'full work': 'Other weather, other fuel, and what the rider does on the road.',
}
const NEXT = {
  'base map check': `Middle, when cells are typically off by more than ${NEXT_LEVEL} %, or one at high load is more than ${NEXT_LEVEL} % lean.`,
  'middle tune': `Full, when after two corrections cells are still off by more than ${NEXT_LEVEL} %, or cylinders differ.`,
  'full work': 'None: what is left is for the road test.',
}

/** What each level of service takes and leaves, by the plan it stands for. */
function levelsOf(choice: PlanChoice): Verdict['levels'] {
  return SERVICES.map((service) => {
    const plan = makePlan({ ...choice, service })
    return {
      level: LEVEL[service],
      runs: plan.steps.reduce((sum, step) => sum + step.repeats, 0),
      minutes: plan.minutes,
      unmeasured: UNMEASURED[service],
      next: NEXT[service],
    }
  })
}

/** What one changed part says: true for a retune, false for usually none, null where it does not tell. */
function partSays({ part, bore, length, removed }: ChangedPart): [says: boolean | null, why: string] {
  if (part === 'catalyst' || part === 'baffle')
    return removed ? [true, `The ${part} is out: the engine breathes otherwise.`] : [false, `The ${part} is still in.`]
  if (part === 'air filter' || part === 'airbox lid' || part === 'intake' || part === 'cam')
    return [true, `Another ${part}: the engine breathes otherwise.`]
  if (part === 'other') return [null, 'What else was changed does not tell by itself.']
  if (bore === 'same' && length === 'same')
    return [false, `Another ${part} of the same bore and length: usually no retune.`]
  if (bore === 'other' || length === 'other')
    return [
      true,
      `The ${part} differs in ${[bore === 'other' && 'bore', length === 'other' && 'length'].filter(Boolean).join(' and ')}.`,
    ]
  return [null, `Bore or length of the ${part} is not known.`]
}

/** What is missing where no part is named: words alone do not tell whether bore and length differ. */
const untoldWords = (fitted: string | undefined): string =>
  fitted?.trim()
    ? `What was fitted is told in words only ("${fitted.trim().slice(0, 120)}"): name the parts under What was changed, with bore and length.`
    : 'Nothing is said of what was changed.'

/**
 * Whether a machine needs a retune, how deep, and whether it is good enough to stop; with reasons. Never which direction
 * before it was measured.
 *
 * @param field of the newest set; null when nothing can be estimated
 * @param runs how many it was made from
 * @param choice plan that levels of service are counted by
 * @param doubts how many there are about what came in: no verdict stands on what is in doubt
 */
export function retuneVerdict(
  job: Pick<Job, 'changed' | 'limits' | 'fitted'>,
  field: Field | null,
  runs: number,
  choice: PlanChoice,
  doubts = 0,
): Omit<Verdict, 'findings' | 'state'> {
  const levels = levelsOf(choice)
  const licensed = job.limits?.licensed
    ? ['Licensed work: read and record here; changes are for a licensed mechanic.']
    : []
  const parts = (job.changed ?? []).map(partSays)
  const direction = 'Lean or rich, and where, only the baseline tells.'
  if (!field || runs < CHECK_RUNS) {
    const says = parts.map(([one]) => one)
    const retune = says.includes(true) ? true : says.length && !says.includes(null) ? false : null
    const missing = CHECK_RUNS - runs
    return {
      retune,
      level: retune ? 'middle' : null,
      enough: false,
      why: [
        ...licensed,
        ...(parts.length ? parts.map(([, why]) => why) : [untoldWords(job.fitted)]),
        direction,
        `${runs ? `${missing} more` : 'Three'} check run${missing === 1 ? '' : 's'} with a mixture would tell from data.`,
      ],
      levels,
    }
  }
  if (doubts > 0)
    return {
      retune: null,
      level: null,
      enough: false,
      why: [
        ...licensed,
        `No verdict stands on readings that are in doubt: ${counted(doubts, 'finding is', 'findings are')} to be cleared first.`,
      ],
      levels,
    }
  const flat = measuredFlatness(field)
  if (flat.worst === null)
    return {
      retune: null,
      level: null,
      enough: false,
      why: [...licensed, 'The runs cover no cell well enough to judge. Run the stops again.', direction],
      levels,
    }
  const lean = flat.open.find(
    ({ row, pct }) =>
      pct > NEXT_LEVEL &&
      field.grid.load[row]! >= (field.grid.loadAxis === 'throttle' ? HIGH_LOAD : 0.85 * field.grid.load.at(-1)!),
  )
  const enough = flat.isFlat && flat.silent.length === 0
  const silent = flat.silent.length
    ? [
        `${counted(flat.silent.length, 'cell does', 'cells do')} not answer to fuel: no more of it until the cause is found.`,
      ]
    : []
  const where = `${grouped(field.grid.rpm[flat.worst.column]!)} rpm and ${field.grid.load[flat.worst.row]} ${LOAD_UNITS[field.grid.loadAxis]}`
  const typical = `Over ${flat.nodes} cells the mixture is typically ${plain(flat.rms, 1)} % off target, at worst ${plain(Math.abs(flat.worst.pct), 1)} % ${flat.worst.pct > 0 ? 'lean' : 'rich'} at ${where}.`
  if (enough)
    return {
      retune: false,
      level: null,
      enough: true,
      why: [...licensed, typical, 'Good enough: what is left lies inside what the gauge can tell. Stop here.'],
      levels,
    }
  const isDeep = flat.rms > NEXT_LEVEL || lean !== undefined
  return {
    retune: true,
    level: isDeep ? (flat.rms > 2 * NEXT_LEVEL ? 'full' : 'middle') : 'base map',
    enough: false,
    why: [
      ...licensed,
      typical,
      ...silent,
      ...(lean
        ? [`A cell at high load is ${plain(lean.pct, 1)} % lean: no run is repeated there before fuel is added.`]
        : []),
      isDeep
        ? `Typically more than ${NEXT_LEVEL} % off, or lean at high load: a base map alone will not do.`
        : `Cells stand out by more than chance, but less than ${NEXT_LEVEL} % as a rule: one correction on the base map may do.`,
    ],
    levels,
  }
}

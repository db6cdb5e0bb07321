import {
  comparedWords,
  jetArea,
  mean,
  nextStepWords,
  stripDay,
  type DayState,
  type Job,
  type RunSet,
  type StripDay,
} from '@yuzumix/core'
import { listSets } from '../../store/sets'
import { listPasses } from '../handling/passes'
import type { Workshop } from './ask'

const CAUTION =
  'One change at a time, and the richer side first: a lean main jet at full throttle is what holes a piston. Only where it is allowed, with the strip closed and its marshals there.'

/** What passes at the strip tell, state against state, and what to try next. */
export async function stripOf(workshop: Workshop, job: Job, signal: AbortSignal): Promise<StripDay> {
  const passes = await listPasses(workshop, job, signal)
  const sets = await listSets(workshop.store, job.id)
  const states: DayState[] = [
    ...(passes.some((one) => one.set === null) ? [{ set: null, name: 'No state named', main: null }] : []),
    ...sets.map((set) => ({ set: set.id, name: set.name, main: mainOf(set) })),
  ]
  const known = new Set(sets.map((set) => set.id))
  const own = job.jetting
  const told = stripDay(
    passes.map((pass) => ({
      ...pass,
      set: pass.set !== null && known.has(pass.set) ? pass.set : null,
      wantedPct: pass.gears.flatMap(({ wantedPct }) => wantedPct ?? []),
    })),
    states,
    own ? { at: own.box.main, area: (number) => jetArea(number, own.body.scheme) } : null,
  )
  const { next } = told
  return {
    confidence: 0.9,
    states: told.states,
    against: told.against.map(({ passes: _, ...one }, k) => ({ ...one, said: comparedWords(told.against[k]!) })),
    next: next && {
      kind: next.kind,
      said: nextStepWords(next),
      pct: 'pct' in next ? next.pct : 'powerPct' in next ? next.powerPct : null,
      from: next.kind === 'jet' ? next.from : next.kind === 'fuel' ? (next.jet?.from ?? null) : null,
      to: next.kind === 'jet' || next.kind === 'back' ? next.to : next.kind === 'fuel' ? (next.jet?.to ?? null) : null,
      passes: next.kind === 'again' ? next.passes : null,
    },
    caution: CAUTION,
  }
}

/** Main jet of a state: the mean over its carburettors; null where none is noted. */
function mainOf({ fitting }: RunSet): number | null {
  const mains = fitting?.fitted.flatMap((one) => one.main ?? []) ?? []
  return mains.length ? mean(mains) : null
}

import type { ThrottleOpening } from './openingsOf'
import type { TracedOpening } from '../film/tracedOpening'

/** How far members of a group lie apart at most: share of speed, and % of opening at the start and at the end. */
const ALIKE = { rpm: 0.08, fromLoad: 5, toLoad: 10 }

/** Openings in groups that lie near in speed and step, slowest first: repeats of one. */
export function alikeOpenings(traced: readonly TracedOpening[]): TracedOpening[][] {
  const groups: TracedOpening[][] = []
  for (const one of [...traced].sort((a, b) => a.opening.rpm - b.opening.rpm)) {
    const at = groups.find((group) => isAlike(group[0]!.opening, one.opening))
    if (at) at.push(one)
    else groups.push([one])
  }
  return groups
}

function isAlike(a: ThrottleOpening, b: ThrottleOpening): boolean {
  return (
    Math.abs(a.rpm - b.rpm) <= ALIKE.rpm * Math.max(a.rpm, b.rpm) &&
    Math.abs(a.fromLoad - b.fromLoad) <= ALIKE.fromLoad &&
    Math.abs(a.toLoad - b.toLoad) <= ALIKE.toLoad
  )
}

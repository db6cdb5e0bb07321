/** What is looked at before any jet is changed (common practice). */
export const CHECKS = [
  { id: 'float', name: 'Float level is as it should be' },
  { id: 'boots', name: 'No leaks at boots and joints' },
  { id: 'clean', name: 'Circuits, jets and filters are clean' },
  { id: 'synchronised', name: 'Carburettors are synchronised' },
  { id: 'choke', name: 'Choke is off, all the way' },
  { id: 'valves', name: 'Valve clearance is right' },
  { id: 'fuel', name: 'Fuel pressure is steady, nothing boils in the bowl' },
] as const
export type Check = (typeof CHECKS)[number]['id']

/** ln that each check left open adds to what a prediction may be off. */
const DOUBT_EACH = 0.006

/** What checks left open do to trust: the doubt to add to predictions, and a word for it. */
export function trustOf(done: readonly string[]): { left: number; doubt: number; word: 'full' | 'lowered' | 'low' } {
  const left = CHECKS.filter((one) => !done.includes(one.id)).length
  return { left, doubt: DOUBT_EACH * left, word: left === 0 ? 'full' : left <= 2 ? 'lowered' : 'low' }
}

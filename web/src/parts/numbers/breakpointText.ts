import { breakpointFault } from '@yuzumix/core'

/**
 * Reads breakpoints as people type them: numbers apart by blanks, commas or semicolons.
 *
 * @returns the numbers, or what is wrong in words
 */
export function readBreakpoints(axis: 'rpm' | 'load', text: string): { points: number[] } | { fault: string } {
  const points = text
    .split(/[\s,;]+/)
    .filter((part) => part !== '')
    .map(Number)
  const fault = points.some(Number.isNaN) ? 'has a part that is not a number.' : breakpointFault(axis, points)
  return fault ? { fault: `${axis} ${fault}` } : { points }
}

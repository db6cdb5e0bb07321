import { breakpointFault, readNumbers } from '@yuzumix/core'

/**
 * Reads breakpoints as people type them: numbers apart by blanks or semicolons.
 *
 * @returns the numbers, or what is wrong in words
 */
export function readBreakpoints(axis: 'rpm' | 'load', text: string): { points: number[] } | { fault: string } {
  const points = readNumbers(text)
  const fault = typeof points === 'string' ? points : breakpointFault(axis, points)
  return fault || typeof points === 'string' ? { fault: `${axis} ${fault}` } : { points }
}

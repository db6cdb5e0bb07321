import { readNumbers } from '@yuzumix/core'

/**
 * Reads a few numbers as people type them, apart by blanks or semicolons.
 *
 * @returns them rising, each once, or what is wrong in words
 */
export function readRising(
  text: string,
  { least, most, count }: { least: number; most: number; count: number },
): { numbers: number[] } | { fault: string } {
  const numbers = readNumbers(text)
  if (typeof numbers === 'string') return { fault: `each is a number from ${least} to ${most}. ${numbers}` }
  if (numbers.length === 0) return { fault: 'write at least one number.' }
  if (numbers.some((one) => !(one >= least && one <= most)))
    return { fault: `each is a number from ${least} to ${most}.` }
  const rising = [...new Set(numbers)].sort((a, b) => a - b)
  return rising.length > count ? { fault: `${count} at the most.` } : { numbers: rising }
}

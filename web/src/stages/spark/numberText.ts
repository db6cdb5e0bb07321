/**
 * Reads a few numbers as people type them, apart by blanks, commas or semicolons.
 *
 * @returns them rising, each once, or what is wrong in words
 */
export function readNumbers(
  text: string,
  { least, most, count }: { least: number; most: number; count: number },
): { numbers: number[] } | { fault: string } {
  const numbers = text
    .split(/[\s,;]+/)
    .filter((part) => part !== '')
    .map(Number)
  if (numbers.length === 0) return { fault: 'write at least one number.' }
  if (numbers.some((one) => !(one >= least && one <= most)))
    return { fault: `each is a number from ${least} to ${most}.` }
  const rising = [...new Set(numbers)].sort((a, b) => a - b)
  return rising.length > count ? { fault: `${count} at the most.` } : { numbers: rising }
}

import type { ArithmeticStep } from '@yuzumix/core'
import { fullText, plain, signed } from '@/parts/numbers/format'

/** One step of a node's arithmetic as a line of plain sums. */
export function arithmeticLine(
  step: ArithmeticStep,
  unit: string,
  mixture: (lambda: number) => string,
): { sum: string; words: string } {
  const v = step.values
  switch (step.what) {
    case 'measured':
      return {
        sum: `${mixture(v['lambda']!)} / ${mixture(v['target']!)} → ${signed(step.result)} %`,
        words: 'measured over target',
      }
    case 'bridged':
      return {
        sum: `${signed(step.result)} %`,
        words: 'smooth between the readings about it; none lies here',
      }
    case 'filled':
      return { sum: `${signed(step.result)} %`, words: 'as the nearest cell that is known; no reading came near' }
    case 'taper':
      return { sum: `${signed(step.result)} %`, words: 'so that no step is left at the edge of what is known' }
    case 'equal':
      return { sum: `${signed(step.result)} %`, words: 'one change for all rows from high load up' }
    case 'undo':
      return {
        sum: `${signed(step.result)} %`,
        words: 'taken back: the passes before measured what a closed loop made of it',
      }
    case 'since':
      return {
        sum: `${signed(v['change']!)} less ${signed(v['moved']!)} → ${signed(step.result)} %`,
        words: 'less what was changed since the runs were made',
      }
    case 'shrink':
      return {
        sum: `${signed(v['change']!)} × ${plain(v['share']!, 2)} = ${signed(step.result)} %`,
        words: `shrunk for its interval of ± ${plain(v['half']!, 1)} %, by what is left about it`,
      }
    case 'limit':
      return {
        sum: `${signed(v['change']!)} → ${signed(step.result)} %`,
        words: `the limit for this pass: ${step.reason?.replace('limited, ', '')}`,
      }
    case 'apply':
      return {
        sum: `${fullText(v['before']!)} with ${signed(v['change']!)} % → ${fullText(step.result)}${unit ? ` ${unit}` : ''}`,
        words: step.reason === 'limited by the table' ? 'cut at what the table can hold' : 'new value',
      }
    case 'stay':
      return { sum: `stays ${fullText(step.result)}${unit ? ` ${unit}` : ''}`, words: step.reason ?? '' }
  }
}

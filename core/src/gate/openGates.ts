import type { RigLine } from '../contract/jobLines'
import type { Danger } from './danger'

/** Lines of the rig list before which nothing is run, and which nobody ticked, in words; empty where all are. */
export function openGateWords(lines: readonly Pick<RigLine, 'text' | 'gate' | 'done'>[]): string {
  const open = lines.filter((one) => one.gate && !one.done)
  return open.length ? `Not ticked in the rig list: ${open.map((one) => one.text).join('; ')}.` : ''
}

/** The same as a danger: asked about once where runs begin. */
export function openGates(lines: readonly Pick<RigLine, 'text' | 'gate' | 'done'>[]): Danger[] {
  const words = openGateWords(lines)
  return words
    ? [
        {
          kind: 'open gate',
          field: 'rig',
          text: `${words} Nothing is run before they are. Tick them in Rig, or say why it is run all the same.`,
        },
      ]
    : []
}

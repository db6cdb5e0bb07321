import { readNumbers, type RpmBand } from '@yuzumix/core'

/** Bands as people type them: "3000-5000, 5000 to 7000". A text saying what is wrong when they cannot be read. */
export function readBands(text: string): RpmBand[] | string {
  const parts = text.split(/[,;\n]+/).filter((part) => part.trim() !== '')
  const bands = parts.map((part) => {
    const ends = /^\s*(\d+)\s*(?:-|–|to|\s)\s*(\d+)\s*$/.exec(part)
    return ends ? { fromRpm: Number(ends[1]), toRpm: Number(ends[2]) } : part.trim()
  })
  const bad = bands.find((one) => typeof one === 'string' || one.fromRpm >= one.toRpm || one.toRpm > 30000)
  if (bad !== undefined)
    return `"${typeof bad === 'string' ? bad : `${bad.fromRpm}-${bad.toRpm}`}" is no band. Type for example 3000-5000.`
  return bands.length > 12 ? 'Twelve bands at the most.' : (bands as RpmBand[])
}

/** Single engine speeds as people type them: "4000 6000". */
export function readSpeeds(text: string): number[] | string {
  const speeds = readNumbers(text)
  if (typeof speeds === 'string') return speeds
  const bad = speeds.find((one) => !(one >= 0 && one <= 30000))
  return bad !== undefined ? 'One of these is no engine speed.' : speeds.slice(0, 24)
}

/** Thirds of a span, in whole hundreds: low, middle, high. */
export function thirds(fromRpm: number, toRpm: number): string {
  const at = (part: number): number => Math.round((fromRpm + (part * (toRpm - fromRpm)) / 3) / 100) * 100
  return [0, 1, 2].map((k) => `${at(k)}-${at(k + 1)}`).join(', ')
}

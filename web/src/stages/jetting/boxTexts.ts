import { countedFrom, EMPTY_BOX, needleFault, type Box, readNumber } from '@yuzumix/core'

/** The parts box as it is typed: sizes with blanks between, needles and rods a line each. */
export type BoxTexts = Record<keyof Box, string>

const LISTS = ['main', 'pilot', 'cutaway', 'springs'] as const

export function boxTexts(box: Box): BoxTexts {
  return {
    main: box.main.join(' '),
    pilot: box.pilot.join(' '),
    cutaway: box.cutaway.join(' '),
    springs: box.springs.join(' '),
    needles: box.needles
      .map(({ name, points }) => `${name}: ${points.map((one) => `${one.at}/${one.diameter}`).join(' ')}`)
      .join('\n'),
    rods: box.rods.map((one) => `${one.name}: ${one.cruise} ${one.power}`).join('\n'),
  }
}

const size = (text: string | undefined): number => readNumber(text ?? '')

/** Lines of "name: figures". */
function named(text: string): { name: string; figures: string[] }[] {
  return text
    .split('\n')
    .map((one) => one.trim())
    .filter(Boolean)
    .map((one) => {
      const [name = '', rest = ''] = one.split(/:(.*)/)
      return { name: name.trim(), figures: rest.trim().split(/\s+/) }
    })
}

/** Reads what was typed; faults by field where something is no size or no needle. */
export function readBoxTexts(texts: BoxTexts): { box: Box; faults: Partial<Record<keyof Box, string>> } {
  const faults: Partial<Record<keyof Box, string>> = {}
  const box: Box = structuredClone(EMPTY_BOX)
  for (const key of LISTS) {
    const all = texts[key].split(/[\s;]+/).filter(Boolean)
    const bad = all.find((one) => !(size(one) >= 0))
    if (bad !== undefined) faults[key] = `"${bad}" is no size. Type sizes with blanks between them.`
    else box[key] = [...new Set(all.map(size))].sort((a, b) => a - b)
  }
  box.needles = named(texts.needles).map(({ name: told, figures }) => {
    const points = figures.filter(Boolean).map((one) => {
      const [at, diameter] = one.split('/')
      return { at: size(at), diameter: size(diameter) }
    })
    const [, name = told, from] = /^(.*\S)\s+from\s+(\S+)$/.exec(told) ?? []
    return from === undefined ? { name, points } : countedFrom({ name, points }, size(from))
  })
  const needle = box.needles.map(needleFault).find(Boolean)
  if (needle) faults.needles = needle
  box.rods = named(texts.rods).map(({ name, figures }) => ({ name, cruise: size(figures[0]), power: size(figures[1]) }))
  const rod = box.rods.find((one) => !(one.cruise >= 0 && one.power >= 0))
  if (rod) faults.rods = `Rod "${rod.name}" needs two diameters, for cruise and for power.`
  return { box, faults }
}

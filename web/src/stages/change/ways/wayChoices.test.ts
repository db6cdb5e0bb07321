import type { TableInfo, Wanted } from '@yuzumix/core'
import { firstChoices, NO_TABLE, wayAsked } from './wayChoices'
import { minutesWords, numbersInLine, worstWords } from './wayWords'

const grid = { rpm: [1000, 3000, 5000, 7000], load: [5, 30, 60, 100], loadAxis: 'throttle' as const }
const wanted = (pct: (number | null)[][]): Wanted => ({ ...grid, pct, weight: pct.map((row) => row.map(() => 1)) })
const everywhere = wanted(grid.load.map(() => grid.rpm.map(() => 3)))
const trim = {
  id: 't',
  table: { ...grid, kind: 'fuel trim', composition: 'multiply', values: everywhere.pct },
} as unknown as TableInfo

describe('what is chosen of each way', () => {
  it('begins where anything is known: bands by opening where one speed was read', () => {
    expect(firstChoices(everywhere).bands.axis).toBe('rpm')
    const oneSpeed = wanted(grid.load.map(() => [null, null, 3, null]))
    expect(firstChoices(oneSpeed).bands.axis).toBe('load')
    expect(firstChoices(oneSpeed).strips.rpm.length).toBeGreaterThan(1)
  })
  it('becomes what is asked, with the table it names and the places that were given', () => {
    const choices = firstChoices(everywhere)
    expect(wayAsked('global', choices, [trim])).toEqual({ way: { kind: 'global' } })
    choices.global.table = 't'
    expect(wayAsked('global', choices, [trim])).toEqual({ way: { kind: 'global', table: trim.table } })
    choices.coarse.rpm = [1000, 4000, 7000]
    expect(wayAsked('coarse', choices, [])).toMatchObject({
      way: { rpmPoints: 3, rpm: [1000, 4000, 7000], loadPoints: 6 },
    })
    choices.bands.edges = [4000]
    expect(wayAsked('bands', choices, [])).toEqual({
      way: { kind: 'bands', axis: 'rpm', bands: 2, crossover: 0, edges: [4000] },
    })
    expect(choices.table.table).toBe(NO_TABLE)
  })
  it('says what has to be said first', () => {
    const choices = firstChoices(everywhere)
    expect(wayAsked('pressure', choices, [])).toEqual({ wants: 'Say the rail pressure of now.' })
    expect(wayAsked('injectors', choices, [])).toEqual({ wants: 'Say the flow of both sets.' })
    choices.pressure.kPa = 300
    expect(wayAsked('pressure', choices, [])).toEqual({ way: { kind: 'pressure', kPa: 300, manifoldKpa: 0 } })
    Object.assign(choices.injectors, { fromFlow: 200, toFlow: 240, kPaFrom: 300 })
    // Half of a pair of pressures is none.
    expect(wayAsked('injectors', choices, [])).toEqual({
      way: { kind: 'injectors', from: { flow: 200, deadMs: 0.8 }, to: { flow: 240, deadMs: 0.8 } },
    })
  })
})

describe('words of a way', () => {
  it('tell its numbers in one line', () => {
    expect(numbersInLine('bands', { axis: 'rpm', edges: [4000], values: [2, -1.5], crossover: 0 }, 'throttle')).toBe(
      '+2.0 / −1.5 %, edges 4\u202f000 rpm',
    )
    expect(numbersInLine('pressure', { kPa: 331 }, 'throttle')).toBe('331 kPa')
    expect(numbersInLine('strips', { threshold: 20, rpm: [1, 2], low: [0, 0], high: [0, 0] }, 'manifold')).toBe(
      '2 speeds, below and from 20 kPa',
    )
  })
  it('name the direction of what is left, and no direction of nothing', () => {
    expect(worstWords({ pct: 2.04, rpm: 5000, load: 82.5 }, 'throttle')).toEqual({
      size: '2.0 % lean',
      where: '5\u202f000 rpm, 82.5 %',
    })
    expect(worstWords({ pct: -3.1, rpm: 900, load: 60 }, 'manifold').size).toBe('3.1 % rich')
    expect(worstWords({ pct: 0.01, rpm: 900, load: 60 }, 'manifold')).toEqual({
      size: '0.0 %',
      where: '900 rpm, 60 kPa',
    })
    expect(minutesWords(0.3)).toBe('1 min')
  })
})

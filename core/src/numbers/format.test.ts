import { counted, grouped, plain, signed } from './format'
import { sentence } from './sentence'

const THIN = '\u202f'

describe('numbers in words', () => {
  it('carry a true minus, and none on what rounds to nothing', () => {
    expect([plain(-2, 1), plain(-0.04, 1), plain(3.14159, 2)]).toEqual(['−2.0', '0.0', '3.14'])
    expect([signed(1.26), signed(-1.26), signed(-0.04), signed(0)]).toEqual(['+1.3', '−1.3', '±0.0', '±0.0'])
  })
  it('group thousands by thin spaces', () => {
    expect([grouped(999), grouped(12500.4), grouped(1234567), grouped(-4000)]).toEqual([
      '999',
      `12${THIN}500`,
      `1${THIN}234${THIN}567`,
      `−4${THIN}000`,
    ])
  })
  it('are a dot where there is none', () => {
    expect([plain(Infinity, 3), signed(NaN), grouped(-Infinity)]).toEqual(['·', '·', '·'])
  })
  it('end a sentence once', () => {
    expect(['Sealed the joint', 'Sealed the joint.', 'A misfire?', ' '].map(sentence)).toEqual([
      'Sealed the joint.',
      'Sealed the joint.',
      'A misfire?',
      '',
    ])
  })
  it('count in words that agree', () => {
    expect([counted(1, 'run'), counted(0, 'run'), counted(2, 'cell moves', 'cells move')]).toEqual([
      '1 run',
      '0 runs',
      '2 cells move',
    ])
  })
})

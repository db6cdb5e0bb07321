import { complaintName, placeWords } from './complaintWords'

describe('where a complaint is pinned', () => {
  it.each([
    [{}, ''],
    [{ fromRpm: 3000, toRpm: 4200 }, '3\u202f000 to 4\u202f200 rpm'],
    [{ fromRpm: 3000 }, 'from 3\u202f000 rpm'],
    [{ toThrottle: 20 }, 'up to 20 % throttle'],
    [{ fromThrottle: 0, toThrottle: 10, gear: 2, temperature: 'cold' as const }, '0 to 10 % throttle, gear 2, cold'],
  ])('%j', (where, words) => expect(placeWords(where)).toBe(words))
})

it('a complaint is called by its word and what was said', () => {
  expect(complaintName({ word: 'hot', text: 'in town' })).toBe('hot: in town')
  expect(complaintName({ word: 'hot' })).toBe('hot')
})

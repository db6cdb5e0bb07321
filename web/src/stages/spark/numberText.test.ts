import { readRising } from './numberText'

const LIMITS = { least: 1, most: 100, count: 3 }
it.each([
  ['40 60 100', [40, 60, 100]],
  ['100;60, 40', [40, 60, 100]],
  ['60 60 40', [40, 60]],
  [' 7.5 ', [7.5]],
])('"%s" is read', (text, numbers) => {
  expect(readRising(text, LIMITS)).toEqual({ numbers })
})
it.each([
  ['', /at least one/],
  ['forty', /is not a number/],
  ['0', /from 1 to 100/],
  ['40 140', /from 1 to 100/],
  ['10 20 30 40', /3 at the most/],
])('"%s" is refused in words', (text, words) => {
  expect(readRising(text, LIMITS)).toEqual({ fault: expect.stringMatching(words) as string })
})

import { readNumber, readNumbers } from './typed'

describe('a number as it is typed', () => {
  it.each([
    ['4,5', 4.5],
    ['4.5', 4.5],
    [' +4,5 % ', 4.5],
    ['\u22123', -3],
    ['10\u202f000', 10000],
    ['.5', 0.5],
    ['1e3', 1000],
  ])('%s is %d', (text, value) => expect(readNumber(text)).toBe(value))
  it.each(['', '-', 'five', '1,2,3', '0x1f', 'Infinity', '4..5'])('%s is none', (text) =>
    expect(readNumber(text)).toBeNaN(),
  )
})

describe('several numbers as they are typed', () => {
  it.each([
    ['20 40 60', [20, 40, 60]],
    ['20, 40, 60', [20, 40, 60]],
    ['20;40 ; 60;', [20, 40, 60]],
    ['4,5 20', [4.5, 20]],
    ['4,5, 20,', [4.5, 20]],
    ['', []],
  ])('%s', (text, numbers) => expect(readNumbers(text)).toEqual(numbers))
  it('a comma that cannot be a decimal comma is asked about, not guessed', () => {
    expect(readNumbers('3000,4000')).toMatch(/"3000,4000": put a blank between numbers/)
    expect(readNumbers('20,40,60')).toMatch(/put a blank/)
    expect(readNumbers('20 forty')).toMatch(/"forty" is not a number/)
  })
})

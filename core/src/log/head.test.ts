import { readLayout } from './head'

const layoutOf = (...lines: string[]): ReturnType<typeof readLayout> =>
  readLayout(['time;rpm;throttle;lambda', ...lines, ''].join('\n'), true)
const quoted = (...lines: string[]): ReturnType<typeof readLayout> =>
  readLayout(['time,rpm,throttle,lambda', ...lines, ''].join('\n'), true)

describe('the decimal sign of a log', () => {
  it('is a comma where numbers have one, quoted between commas, too', () => {
    expect(layoutOf('0,00;3000;20,5;0,950', '0,02;3010;20,5;0,951').decimalComma).toBe(true)
    expect(quoted('"0,00","3000","20,5","0,950"', '"0,02","3010","20,5","0,951"').decimalComma).toBe(true)
    expect(quoted('0.00,3000,20.5,0.950', '0.02,3010,20.5,0.951').decimalComma).toBe(false)
  })
  it('is a point where commas stand between thousands', () => {
    const { decimalComma, delimiter } = quoted('"0","3,000","20.5","0.950"', '"20","3,010","20.5","0.951"')
    expect([decimalComma, delimiter]).toEqual([false, ','])
    expect(layoutOf('0.00;3,000;20.5;0.950', '0.02;3,010;20.5;0.951').decimalComma).toBe(false)
  })
  it('is a comma where nothing tells and cells are set apart by something else', () => {
    expect(layoutOf('1;3;85,125;2', '2;4;85,250;3').decimalComma).toBe(true)
    expect(quoted('"1","3","85,125","2"', '"2","4","85,250","3"').decimalComma).toBe(false)
  })
})

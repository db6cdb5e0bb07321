import { panelsIn } from './panelsIn'

const heights = (room: number, ...bare: string[]) =>
  panelsIn(room, (one) => bare.includes(one)).map(({ quantity, height }) => [quantity, height])

describe('strips of the chart', () => {
  it('share the room', () => {
    expect(heights(600)).toEqual([
      ['torque', 228],
      ['power', 180],
      ['lambda', 192],
    ])
    expect(panelsIn(600, () => false).map(({ top }) => top)).toEqual([2, 230, 410])
  })
  it('leave it to the others where no run tells them', () => {
    expect(heights(600, 'torque', 'power')).toEqual([
      ['torque', 44],
      ['power', 44],
      ['lambda', 512],
    ])
    expect(heights(600, 'lambda')).toEqual([
      ['torque', 310],
      ['power', 245],
      ['lambda', 44],
    ])
  })
})

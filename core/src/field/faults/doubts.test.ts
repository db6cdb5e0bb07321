import type { LoadGrid } from '../../table/table'
import { bendsAtNodes } from './doubts'

const grid: LoadGrid = { loadAxis: 'throttle', rpm: [2000, 2500, 4000, 6000], load: [0, 5, 20, 60, 100] }
const fieldOf = (f: (rpm: number, load: number) => number, on = grid): Float64Array =>
  Float64Array.from(on.rpm.flatMap((rpm) => on.load.map((load) => f(rpm, load))))

describe('how a field bends at its nodes', () => {
  it('is its second derivative along each axis, on uneven breakpoints and to their ends', () => {
    const { rpm, load } = bendsAtNodes(
      grid,
      fieldOf((r, l) => 0.1 + 3e-5 * r + 4e-8 * r * r - 0.002 * l - 5e-6 * l * l),
    )
    expect(rpm.every((one) => Math.abs(one - 8e-8) < 1e-15)).toBe(true)
    expect(load.every((one) => Math.abs(one + 1e-5) < 1e-15)).toBe(true)
  })
  it('is nothing where a field is straight, or an axis too short to bend', () => {
    const { rpm, load } = bendsAtNodes(
      grid,
      fieldOf((r, l) => 1e-6 * r * l),
    )
    expect([...rpm, ...load].every((one) => Math.abs(one) < 1e-15)).toBe(true)
    const short: LoadGrid = { ...grid, load: [10, 100] }
    expect([
      ...bendsAtNodes(
        short,
        fieldOf((r, l) => l * l, short),
      ).load,
    ]).toEqual(Array.from({ length: 8 }, () => 0))
  })
})

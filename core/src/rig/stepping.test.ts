import type { RigSample } from './sample'
import { stepping } from './stepping'

describe('stepping at the rig', () => {
  /** Runs through the settings with torque and knock as given by the offset in force. */
  function settingsRun(
    choice: Partial<Parameters<typeof stepping>[0]>,
    of: (offset: number) => { torque: number; knock: number },
  ): { seen: number[]; note: string } {
    const steps = stepping({
      offsets: [0, -4, -2, 2, 4, 6, 0],
      seconds: 2,
      danger: 1,
      falls: 0.01,
      unit: '°',
      ...choice,
    })
    const seen: number[] = []
    let offset = 0
    for (let k = 0; k < 2000; k++) {
      const next = steps.next({ time: k / 50, ...of(offset) } as RigSample)
      if (next === null) return { seen, note: steps.note() }
      offset = next
      if (seen.at(-1) !== offset || (seen.length === 1 && k === 0)) seen.push(offset)
    }
    throw new Error('it does not end')
  }
  const rising = (offset: number) => ({ torque: 40 + 0.3 * offset, knock: 0 })
  it('goes through all settings', () => {
    expect(settingsRun({}, rising)).toEqual({ seen: [0, -4, -2, 2, 4, 6, 0], note: '' })
  })
  it('leaves out what lies beyond knock, and the knocking setting itself at once', () => {
    const { seen, note } = settingsRun({}, (offset) => ({ ...rising(offset), knock: offset >= 4 ? 1 : 0 }))
    expect(seen).toEqual([0, -4, -2, 2, 4, 0])
    expect(note).toMatch(/knock at \+4 °/)
  })
  it('a single spike is no knock', () => {
    let spikes = 0
    const { seen } = settingsRun({}, (offset) => ({ ...rising(offset), knock: spikes++ % 10 === 0 ? 2 : 0 }))
    expect(seen).toHaveLength(7)
  })
  it('goes no further where torque falls; for mixture it goes on toward rich all the same', () => {
    const peaked = (offset: number) => ({ torque: 40 - 0.08 * offset ** 2, knock: 0 })
    const { seen, note } = settingsRun({}, peaked)
    expect(seen).toEqual([0, -4, -2, 2, 4, 0])
    expect(note).toMatch(/torque falls at \+4 °/)
    const mixture = settingsRun(
      { danger: -1, falls: null, offsets: [0, 10, 5, -5, -8, 0], unit: '% fuel' },
      (offset) => ({
        torque: 40,
        knock: offset <= -5 ? 1 : 0,
      }),
    )
    expect(mixture.seen).toEqual([0, 10, 5, -5, 0])
  })
})

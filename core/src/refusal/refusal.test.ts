import { inputRefused, isRefusal, refused, unlessRefused } from './refusal'
import { REFUSALS } from './codes'

describe('a refusal', () => {
  it('says what it is called, and what of it is at fault', () => {
    const one = refused('no-field', 'These runs have no lambda.', 'runs')
    expect(one).toMatchObject({
      title: 'No field can be made',
      message: 'These runs have no lambda.',
      faults: [{ field: 'runs', message: 'These runs have no lambda.' }],
    })
    expect(
      inputRefused([
        { field: 'stop', message: 'must be at most 100' },
        { field: 'rpm', message: 'is missing.' },
      ]).message,
    ).toBe('stop must be at most 100; rpm is missing.')
  })
  it('is told by its code, and no other error is one', () => {
    const one = refused('no-log', 'It is empty.', 'file')
    expect([isRefusal(one), isRefusal(one, 'no-log', 'no-table'), isRefusal(one, 'no-table')]).toEqual([
      true,
      true,
      false,
    ])
    expect(isRefusal(new Error('It is empty.'))).toBe(false)
  })
  it('of an expected kind is null, others go on', async () => {
    expect(await unlessRefused(() => 5, 'no-field')).toBe(5)
    const work = (): number => {
      throw refused('no-field', 'None.', 'runs')
    }
    expect(await unlessRefused(work, 'no-field')).toBeNull()
    await expect(unlessRefused(work, 'no-log')).rejects.toThrow('None.')
  })
  it('of each kind has a name of its own', () => {
    expect(new Set(Object.values(REFUSALS)).size).toBe(Object.keys(REFUSALS).length)
  })
})

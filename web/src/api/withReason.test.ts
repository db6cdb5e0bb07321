import { Refusal } from '@yuzumix/core'
import { ElMessageBox } from 'element-plus'
import { withReason } from './withReason'

jest.mock('element-plus', () => ({ ElMessageBox: { prompt: jest.fn() } }))
const prompt = ElMessageBox.prompt as unknown as jest.Mock
const asks = new Refusal('fuel-step', 'It is far.', [{ field: 'revisions[0].override', message: 'why' }])

afterEach(() => prompt.mockReset())

describe('what wants a reason', () => {
  it('is done at once where none is wanted', async () => {
    await expect(withReason(() => Promise.resolve(3))).resolves.toBe(3)
    expect(prompt).not.toHaveBeenCalled()
  })
  it('is asked, and done again with it', async () => {
    prompt.mockResolvedValue({ value: ' measured ' })
    const work = jest.fn((why?: string) => (why ? Promise.resolve(why) : Promise.reject(asks)))
    await expect(withReason(work)).resolves.toBe('measured')
    expect(prompt.mock.calls[0]![0]).toBe('It is far.')
    expect(work).toHaveBeenCalledTimes(2)
  })
  it('is left when nobody says why', async () => {
    prompt.mockRejectedValue('cancel')
    await expect(withReason(() => Promise.reject(asks))).resolves.toBeNull()
  })
  it('is no matter of other faults', async () => {
    const other = new Refusal('handed-over', 'Read-only.', [{ field: 'job', message: 'reopen' }])
    await expect(withReason(() => Promise.reject(other))).rejects.toBe(other)
  })
})

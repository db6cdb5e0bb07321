import { readLayout } from '@yuzumix/core'
import { groupByHeader, readHead, type ChosenLog } from './logHead'

const log = (header: string, name = 'a.csv'): ChosenLog => {
  const text = `${header}\n0,3000,20,0.9\n0.1,3010,20,0.91\n`
  return { file: new File([text], name), layout: readLayout(text, true), isPacked: false, fault: '' }
}

describe('logs that were chosen', () => {
  it('of one header share a mapping; those that cannot be read are left to be told', () => {
    const broken: ChosenLog = { file: new File([''], 'x'), layout: null, isPacked: false, fault: 'empty' }
    const groups = groupByHeader(
      [log('time,rpm,throttle,lambda'), log('time,rpm,throttle,lambda', 'b.csv'), log('t,revs,gas,la'), broken],
      {},
    )
    expect(groups.map((group) => group.files.length)).toEqual([2, 1])
    expect(groups[0]!.mapping['lambda']).toEqual({ channel: 'lambda1', unit: 'λ' })
    expect(groups[0]!.remembered).toBe(false)
  })
  it('what was chosen for a header before wins over recognition', () => {
    const one = log('time,rpm,throttle,lambda')
    const before = { lambda: { channel: 'lambda2', unit: 'λ' } }
    const [group] = groupByHeader([one], { [JSON.stringify(['time', 'rpm', 'throttle', 'lambda'])]: before })
    expect(group).toMatchObject({
      remembered: true,
      mapping: { lambda: { channel: 'lambda2' }, rpm: { channel: 'rpm' } },
    })
  })
  it('a head is read, or says why not', async () => {
    expect(
      (await readHead(new File(['time,rpm,throttle,lambda\n0,3000,20,0.9\n'], 'a.csv'))).layout!.headers,
    ).toHaveLength(4)
    expect((await readHead(new File([''], 'a.csv'))).fault).toMatch(/empty/)
    expect((await readHead(new File([new Uint8Array([137, 80, 78, 71, 0, 0, 1])], 'a.png'))).fault).toMatch(
      /not a text file/,
    )
  })
})

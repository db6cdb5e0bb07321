/** @jest-environment jsdom */
import { mount } from '@vue/test-utils'
import PutBackPanel from './PutBackPanel.vue'

const acts: unknown[] = []
let lines: object[] = []
jest.mock('@/job/handling', () => ({
  useHandling: () => ({
    get putBack() {
      return lines
    },
    get openCount() {
      return lines.length
    },
    note: (line: object) => {
      acts.push({ ...line })
      return Promise.resolve(line)
    },
    settle: (id: string, change: object) => {
      acts.push([id, change])
      return Promise.resolve(change)
    },
  }),
}))
jest.mock('@/job/openJob', () => ({ useJob: () => ({ job: { id: 'j' } }) }))
jest.mock('@/api/client', () => ({ api: {}, urls: { photo: (job: string, entry: string) => `/${job}/${entry}` } }))
jest.mock('@/parts/logbook/NoteDialog.vue', () => ({
  __esModule: true,
  default: {
    props: ['told'],
    emits: ['added'],
    template: `<button @click="$emit('added', { id: 'entry', photo: 'image/png' })">add: {{ told }}</button>`,
  },
}))

const FAN = {
  id: 'fan',
  what: 'Fan',
  was: '103 °C',
  now: '88 °C',
  due: 'hand-over',
  automatic: false,
  back: false,
  leftSo: false,
  told: null,
}
const shown = (some: object[]) => {
  lines = some
  acts.length = 0
  return mount(PutBackPanel)
}
const press = (panel: ReturnType<typeof shown>, text: string) =>
  panel
    .findAll('button')
    .find((one) => one.text() === text)!
    .trigger('click')

describe('the put-back ledger', () => {
  it('takes a line back with one press', async () => {
    const panel = shown([FAN])
    await press(panel, 'It is back')
    expect(acts).toEqual([['fan', { back: true }]])
  })
  it('takes a photo of how it was, and shows it with the line', async () => {
    const panel = shown([FAN])
    await press(panel, 'Photo')
    await press(panel, 'add: Fan: was 103 °C')
    expect(acts).toEqual([['fan', { photo: 'entry' }]])
    expect(
      shown([{ ...FAN, photo: 'entry' }])
        .get('img')
        .attributes('src'),
    ).toBe('/j/entry')
  })
  it('leaves a line so only with somebody told', async () => {
    const panel = shown([FAN])
    await press(panel, 'Left so')
    const form = panel.findAll('form').at(-1)!
    await form.trigger('submit')
    expect(acts).toEqual([])
    await form.find('input').setValue('the rider')
    await form.trigger('submit')
    expect(acts).toEqual([['fan', { leftSo: true, told: 'the rider' }]])
  })
  it('notes nothing that is said by half', async () => {
    const panel = shown([])
    await panel.find('form').trigger('submit')
    expect(acts).toEqual([])
    expect(panel.text()).toContain('Nothing is changed for the session yet.')
  })
  it('puts what is open first, and says who was told', () => {
    const panel = shown([
      { ...FAN, id: 'a', what: 'Plug', back: true },
      { ...FAN, id: 'b', what: 'Tyre', leftSo: true, told: 'the owner' },
      FAN,
    ])
    expect(panel.findAll('li strong').map((one) => one.text())).toEqual(['Fan', 'Plug', 'Tyre'])
    expect(panel.text()).toContain('left so, told the owner')
  })
})

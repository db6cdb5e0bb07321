/** @jest-environment jsdom */
import { flushPromises, mount } from '@vue/test-utils'
import { api } from '@/api/client'
import { useHandling } from '@/job/handling'
import RigStage from './RigStage.vue'

jest.mock('@/api/client', () => ({ api: {} }))
jest.mock('@/api/notify', () => ({ notifyProblem: jest.fn() }))
jest.mock('@/job/handling', () => {
  const { reactive } = jest.requireActual<{ reactive: <T>(value: T) => T }>('vue')
  const handling = { reload: () => Promise.resolve(), heard: reactive({ handling: 0, job: 0 }) }
  return { useHandling: () => handling }
})
jest.mock('@/job/openJob', () => ({
  useJob: () => ({
    runs: [],
    set: null,
    job: { id: 'j', machine: { cylinders: 1 } },
    change: () => Promise.resolve(),
    saved: <T>(act: () => Promise<T>): Promise<T> => act(),
  }),
}))
jest.mock('./PutBackPanel.vue', () => ({ __esModule: true, default: { template: '<i />' } }))
jest.mock('./RigClock.vue', () => ({ __esModule: true, default: { template: '<i />' } }))

const line = (id: string, more: object = {}) => ({
  id,
  text: id,
  why: '',
  minutes: 3,
  caution: null,
  gate: false,
  from: 'own',
  done: false,
  ...more,
})
const ticks: [string, boolean][] = []
let refuses = false
beforeEach(() => {
  ticks.length = 0
  refuses = false
  Object.assign(api, {
    rig: () => Promise.resolve([line('extraction', { gate: true }), line('straps', { gate: true }), line('fan')]),
    probes: () => Promise.resolve([]),
    tickRigLine: (_job: string, id: string, { done }: { done: boolean }) => {
      ticks.push([id, done])
      return refuses ? Promise.reject(new Error('no')) : Promise.resolve()
    },
  })
})
const shown = async () => {
  const stage = mount(RigStage, { attachTo: document.body })
  await flushPromises()
  return stage
}
const ticked = (stage: Awaited<ReturnType<typeof shown>>): string[] =>
  stage.findAll('li[aria-selected="true"] strong').map((one) => one.text())

describe('the rig list', () => {
  it('goes by keys: down, space ticks, and the gates and minutes left follow', async () => {
    const stage = await shown()
    expect(stage.text()).toContain('2 gates open')
    const list = stage.find('[role="listbox"]')
    await list.trigger('keydown', { key: ' ' })
    await list.trigger('keydown', { key: 'ArrowDown' })
    await list.trigger('keydown', { key: 'Enter' })
    await flushPromises()
    expect(ticks).toEqual([
      ['extraction', true],
      ['straps', true],
    ])
    expect(ticked(stage)).toEqual(['extraction', 'straps'])
    expect(stage.text()).toContain('all gates passed')
    expect(stage.text()).toContain('3 of 9 min left')
    await list.trigger('keydown', { key: 'Enter' })
    expect(ticks.at(-1)).toEqual(['straps', false])
  })
  it('takes a tick back that the server refused', async () => {
    const stage = await shown()
    refuses = true
    await stage.find('[role="listbox"]').trigger('keydown', { key: ' ' })
    await flushPromises()
    expect(ticked(stage)).toEqual([])
  })
  it('shows what was ticked in another window', async () => {
    const stage = await shown()
    expect(ticked(stage)).toEqual([])
    Object.assign(api, { rig: () => Promise.resolve([line('extraction', { gate: true, done: true }), line('fan')]) })
    useHandling().heard.handling++
    await flushPromises()
    expect(ticked(stage)).toEqual(['extraction'])
    expect(stage.text()).toContain('all gates passed')
  })
})

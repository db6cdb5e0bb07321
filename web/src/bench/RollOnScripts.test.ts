/** @jest-environment jsdom */
import { mount, RouterLinkStub } from '@vue/test-utils'
import type { PlannedRollOn, RunScript } from '@yuzumix/core'
import { computed, ref } from 'vue'
import RollOnScripts from './RollOnScripts.vue'

const state = ref<object | null>(null)
const isDriving = ref(false)
const isBusy = ref(false)
const isRunning = ref(false)
const started: RunScript[][] = []
let stopped = 0
jest.mock('./benchStore', () => ({
  useJobBench: () => ({
    bench: { state, isDriving, isBusy },
    queue: {
      isRunning,
      head: computed(() => 'Roll-on to 15 %'),
      left: ref(2),
      total: ref(3),
      start: (scripts: RunScript[]) => started.push(scripts),
      stop: () => stopped++,
    },
  }),
}))
let gear: number | null = 3
let isDone = false
jest.mock('@/job/openJob', () => ({ useJob: () => ({ job: { id: 'j' }, set: { gear } }) }))
jest.mock('@/job/handling', () => ({ useHandling: () => ({ isDone }) }))

const PLAN: PlannedRollOn[] = [
  { rpm: 3000, fromLoad: 3, toLoad: 15, done: 3, wanted: 3, why: '' },
  { rpm: 4500, fromLoad: 3, toLoad: 15, done: 1, wanted: 3, why: '' },
]
const shown = (plan = PLAN) =>
  mount(RollOnScripts, { props: { plan }, global: { stubs: { RouterLink: RouterLinkStub } } })

beforeEach(() => {
  ;[state.value, isDriving.value, isBusy.value, isRunning.value] = [null, false, false, false]
  started.length = 0
  ;[gear, isDone] = [3, false]
})

describe('the roll-ons left of a plan', () => {
  it('ask for a bench, then for the wheel', () => {
    expect(shown().text()).toBe('Connect a bench to run them by script')
    state.value = {}
    const panel = shown()
    expect(panel.get('button').attributes('disabled')).toBeDefined()
    expect(panel.text()).toContain('Take the wheel at the bench to run them')
  })
  it('are run as many times as they lack, in the gear of the set', async () => {
    ;[state.value, isDriving.value] = [{}, true]
    const panel = shown()
    expect(panel.text()).toBe('Run the 2 left in gear 3, warmed up first')
    await panel.get('button').trigger('click')
    expect(started).toEqual([
      Array(2).fill({ kind: 'roll-on', fromRpm: 4500, fromStop: 3, stop: 15, seconds: 3, gear: 3 }),
    ])
  })
  it('tell how far the runs are, and stop them', async () => {
    isRunning.value = true
    const panel = shown()
    expect(panel.text()).toContain('Roll-on to 15 %; 2 of 3 left')
    await panel.get('button').trigger('click')
    expect(stopped).toBe(1)
  })
  it('are not offered when nothing is left, nor of a job that is handed over', () => {
    expect(shown(PLAN.slice(0, 1)).text()).toBe('')
    isDone = true
    expect(shown().text()).toBe('')
  })
})

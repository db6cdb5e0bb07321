/** @jest-environment jsdom */
import { mount } from '@vue/test-utils'
import { computed, ref } from 'vue'
import type { Bench } from './useBench'
import LoopPanel from './LoopPanel.vue'
import type { RunQueue } from './useRunQueue'

/** What the loop knows, as each test sets it. */
let now: Record<string, unknown> = {}
const acts: string[] = []
jest.mock('./useLoop', () => ({
  useLoop: () => {
    const of = (name: string) => computed(() => now[name])
    const act = (name: string) => () => acts.push(name)
    return {
      rows: of('rows'),
      hasTables: of('hasTables'),
      set: of('set'),
      pass: of('pass'),
      field: of('field'),
      flatness: of('flatness'),
      changed: of('changed'),
      proof: of('proof'),
      isStale: of('isStale'),
      unwritten: of('unwritten'),
      problem: of('problem'),
      working: of('working'),
      takeIn: act('take in'),
      begin: act('begin'),
      correct: act('correct'),
      write: act('write'),
    }
  },
}))
jest.mock('@/job/openJob', () => ({ useJob: () => ({ cylinderName: (n: number) => `cylinder ${n}` }) }))
let left = 0
jest.mock('./usePlanTicks', () => ({
  usePlanTicks: () => ({
    plan: { value: { steps: [{ key: 'a', kind: 'sweep', stop: 100, fromRpm: 3000, toRpm: 9000, repeats: 3 }] } },
    leftOf: () => left,
  }),
}))

const doubt = ref<object | null>(null)
jest.mock('@/job/useNextRun', () => ({ useNextRun: () => ({ answer: doubt }), nextRunWords: () => 'Sweep at 15 %' }))

const FLAT = {
  range: { points: 20, expected: 1.2, unknownPct: 10 },
  nodes: 40,
  bridged: 3,
  held: 0,
  rms: 4,
  worst: null,
  unseen: [],
  open: [],
  silent: [],
  isFlat: false,
}
const READY = {
  rows: [{ own: { info: { name: 'Fuel' } }, inside: { name: 'Fuel' } }],
  hasTables: true,
  set: { id: 's' },
  pass: 2,
  field: { grid: { rpm: [3000], load: [100] }, cylinders: [{}] },
  flatness: FLAT,
  changed: [{ changePct: 4 }, { changePct: -1 }],
  proof: null,
  isStale: false,
  unwritten: [],
  problem: '',
  working: '',
}
function shown(over: object, { driving = true, running = false, unkept = [] as string[] } = {}) {
  now = { ...READY, ...over }
  acts.length = 0
  const started: unknown[][] = []
  const bench = { isDriving: ref(driving), isBusy: ref(false), uncalibrated: ref([]), unkept: ref(unkept) }
  const queue = {
    isRunning: ref(running),
    head: ref('Sweep'),
    left: ref(2),
    total: ref(3),
    start: (scripts: unknown[]) => started.push(scripts),
    stop: () => acts.push('stop'),
  }
  const wrapper = mount(LoopPanel, {
    props: { bench: bench as unknown as Bench, queue: queue as unknown as RunQueue },
  })
  const first = wrapper.findAll('section')[0]!
  return { wrapper, heading: first.get('h3').text(), button: first.find('button'), started }
}

describe('what the loop asks for next', () => {
  it.each([
    ['tables of the controller', { hasTables: false, rows: [{ own: null, inside: { name: 'Fuel' } }] }, 'take in'],
    ['a write that is missing', { unwritten: [{ own: { info: { name: 'Fuel' } } }] }, 'write'],
    ['a pass of its own, after runs on another table', { isStale: true }, 'begin'],
    ['the correction', {}, 'correct'],
  ])('%s', async (_what, over, act) => {
    left = 0
    const { button } = shown(over)
    await button.trigger('click')
    expect(acts).toEqual([act])
  })
  it('the sweeps that the plan still lacks', async () => {
    left = 2
    const { heading, button, started } = shown({ field: null, flatness: null, changed: [] })
    expect(heading).toBe('Pass 2: measure')
    await button.trigger('click')
    expect(started[0]).toHaveLength(2)
    left = 0
  })
  it('nothing but a stop while runs go on', async () => {
    const { button } = shown({}, { running: true })
    await button.trigger('click')
    expect(acts).toEqual(['stop'])
  })
  it('to keep what is written, once it is flat; then nothing', () => {
    const flat = { flatness: { ...FLAT, isFlat: true }, changed: [] }
    expect(shown(flat, { unkept: ['base'] }).button.text()).toBe('Keep what is written')
    expect(shown(flat).button.exists()).toBe(false)
  })
  it('the run that takes most doubt away, once it is flat where it was measured', async () => {
    const flat = { flatness: { ...FLAT, isFlat: true }, changed: [] }
    doubt.value = { why: 'At worst 5 %.', next: { kind: 'sweep', load: 15, fromRpm: 2500, toRpm: 8000, minutes: 1 } }
    const { button, started, wrapper } = shown(flat)
    expect(button.text()).toBe('Sweep at 15 %')
    expect(wrapper.text()).toContain('At worst 5 %.')
    // Whatever is still in doubt, what is kept is kept.
    expect(wrapper.text()).toContain('The controller holds it.')
    expect(shown(flat, { unkept: ['base'] }).wrapper.text()).not.toContain('The controller holds it.')
    await button.trigger('click')
    expect(started).toEqual([[expect.objectContaining({ kind: 'sweep', stop: 15, fromRpm: 2500, toRpm: 8000 })]])
    doubt.value = { why: 'No run tells more of it.', enough: false, next: null, afterLimits: null }
    expect(shown(flat).wrapper.text()).toContain('No run tells more of it.')
    doubt.value = { why: '2 % are left.', enough: true, next: null, afterLimits: { typicalPct: 2, worstPct: 4 } }
    expect(shown(flat).wrapper.text()).not.toContain('The range is flat')
    doubt.value = { why: '', enough: true, next: null, afterLimits: null }
    expect(shown(flat).wrapper.text()).toContain('Nothing is left to do here.')
    doubt.value = null
  })
  it('nobody who does not drive can correct', () => {
    expect(shown({}, { driving: false }).button.attributes('disabled')).toBeDefined()
  })
})

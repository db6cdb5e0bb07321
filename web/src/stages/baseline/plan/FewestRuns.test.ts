/** @jest-environment jsdom */
import { mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { nextTick } from 'vue'
import { DEFAULT_PLAN, type Job, type NextOfJob, type RunInfo } from '@yuzumix/core'
import { api } from '@/api/client'
import { useJob } from '@/job/openJob'
import FewestRuns from './FewestRuns.vue'

jest.mock('@/api/client', () => ({ api: {} }))

let asked: { give: (answer: NextOfJob) => void; fail: (error: Error) => void }[] = []
beforeEach(() => {
  asked = []
  setActivePinia(createPinia())
  Object.assign(api, { nextRun: () => new Promise((give, fail) => asked.push({ give, fail })) })
  useJob().job = { id: 'j' } as Job
})
const answer = (over: Partial<NextOfJob> = {}): NextOfJob => ({
  enough: false,
  typicalPct: 2,
  worstPct: 9,
  afterLimits: null,
  next: { kind: 'sweep', load: 40, fromRpm: 8500, toRpm: 2500, minutes: 1.1 },
  why: 'Expected after the change: typically 2.0 %.',
  leftOut: null,
  ranked: [],
  from: { runs: 9, own: 6, lag: 0.14 },
  ...over,
})
const settled = async (): Promise<void> => {
  for (let k = 0; k < 8; k++) await nextTick()
}

describe('in the fewest runs', () => {
  it('says the run, which way it goes, and why', async () => {
    const panel = mount(FewestRuns)
    expect(panel.text()).toContain('Working out')
    asked[0]!.give(answer())
    await settled()
    expect(panel.text()).toMatch(/Sweep down at 40 %, 8.500 to 2.500 rpm/)
    expect(panel.text()).toContain('typically 2.0 %')
  })
  it('says when it is enough', async () => {
    const panel = mount(FewestRuns)
    asked[0]!.give(answer({ enough: true, next: null }))
    await settled()
    expect(panel.text()).toContain('Enough.')
    expect(panel.text()).toContain('with no new run after it, the range is flat')
  })
  it('calls nothing flat that the limits of a pass will leave', async () => {
    const panel = mount(FewestRuns)
    asked[0]!.give(answer({ enough: true, next: null, afterLimits: { typicalPct: 2, worstPct: 6 } }))
    await settled()
    expect(panel.text()).toContain('Enough for this pass. Take the change, and measure again.')
    expect(panel.text()).not.toContain('flat')
  })
  it('asks anew after a run, and drops the late answer to what was asked before', async () => {
    const panel = mount(FewestRuns)
    useJob().runs = [{ id: 'a' } as RunInfo]
    await settled()
    expect(asked).toHaveLength(2)
    asked[1]!.give(answer({ next: { kind: 'hold', load: 20, fromRpm: 4000, toRpm: 4000, minutes: 1 } }))
    await settled()
    asked[0]!.give(answer())
    await settled()
    expect(panel.text()).toMatch(/Hold at 20 %, 4.000 rpm/)
  })
  it('tells what else would help, and what it would take away', async () => {
    useJob().runs = [{ id: 'a' } as RunInfo]
    const panel = mount(FewestRuns)
    const run = { kind: 'sweep' as const, load: 60, row: 4, rpm: null, fromRpm: 3000, toRpm: 8000, minutes: 1.2 }
    const best = { ...run, nodes: 30, unknown: 4, halfNow: 3, halfAfter: 1.2, gain: 2 }
    asked[0]!.give(answer({ ranked: [best, { ...best, load: 20, unknown: 0, nodes: 1 }] }))
    await settled()
    const others = panel.findAll('li')
    expect(others).toHaveLength(1)
    expect(others[0]!.text()).toMatch(
      /Sweep at 20 %, 3.000 to 8.000 rpm.*1 cell surer\. In 1\.2 min from about ±3\.0 % to\s+±1\.2 %/,
    )
  })
  it('asks anew once a plan is saved, not before', async () => {
    mount(FewestRuns)
    const open = useJob()
    let end = (): void => undefined
    Object.assign(api, { changeJob: () => new Promise((done) => (end = () => done({ ...open.job! }))) })
    open.choose({ plan: { ...DEFAULT_PLAN, toRpm: 9000 } })
    const saved = open.flush()
    await settled()
    expect(asked).toHaveLength(1)
    end()
    await saved
    await settled()
    expect(asked).toHaveLength(2)
  })
  it('a problem is said, and can be tried again', async () => {
    const panel = mount(FewestRuns)
    asked[0]!.fail(new Error('The server does not answer.'))
    await settled()
    expect(panel.text()).toContain('The server does not answer.')
    await panel.get('button').trigger('click')
    expect(asked).toHaveLength(2)
  })
})

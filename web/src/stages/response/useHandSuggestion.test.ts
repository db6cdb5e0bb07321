import { flushPromises } from '@vue/test-utils'
import { effectScope, ref, shallowRef } from 'vue'
import { createPinia, setActivePinia } from 'pinia'
import {
  DEFAULT_MIXTURE,
  DEFAULT_RESPONSE,
  DEFAULT_SET,
  respond,
  type Job,
  type MadePlate,
  type PlateQuestion,
  type Response,
  type TableInfo,
} from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import { heldWork } from '@/workers/heldWork'
import { useHandSuggestion } from './useHandSuggestion'

jest.mock('@/api/client', () => ({ api: {} }))
jest.mock('@/api/notify', () => ({ notifyProblem: jest.fn() }))
jest.mock('@/workers/connect', () => ({}))
jest.mock('comlink', () => ({ proxy: (call: unknown) => call }))

const plate = (values: number[][]): TableInfo =>
  ({
    id: 'plate',
    job: 'job',
    name: 'Plate',
    cylinder: null,
    revisions: [],
    table: {
      kind: 'plate',
      composition: 'multiply',
      loadAxis: 'throttle',
      rpm: [3000, 6000],
      load: [0, 50, 100],
      values,
    },
  }) as unknown as TableInfo
const VALUES = [
  [1, 1],
  [50, 50],
  [100, 100],
]
const made = (middle: number): MadePlate => ({
  grip: [0, 50, 100],
  rpm: [3000, 6000],
  values: [VALUES[0]!, [middle, middle], VALUES[2]!],
  torque: { grip: [], rpm: [], before: [], after: [] },
  cautions: [],
})
const nothing: Response = respond([], DEFAULT_RESPONSE)

function setUp() {
  setActivePinia(createPinia())
  const info = shallowRef<TableInfo | null>(plate(VALUES))
  const open = useJob()
  open.job = { id: 'job', mixture: DEFAULT_MIXTURE } as unknown as Job
  open.sets = [{ ...DEFAULT_SET, id: 's', job: 'job', name: 's', runCount: 1, createdAt: '2026-01-01' }]
  open.tables = [info.value!]
  const { asked, connect } = heldWork<PlateQuestion>()
  const scope = effectScope()
  const state = { response: shallowRef(nothing), mode: ref(null) }
  return { asked, scope, hand: scope.run(() => useHandSuggestion(state, info, connect))! }
}

test('only the shape asked for last is suggested, whichever answer comes last', async () => {
  const { asked, hand, scope } = setUp()
  await flushPromises()
  hand.shape.value = 'soft third'
  await flushPromises()
  expect(asked.map((one) => one.question.asked.wish.shape)).toEqual(['torque straight', 'soft third'])
  asked[1]!.give(made(30))
  await flushPromises()
  asked[0]!.give(made(70))
  await flushPromises()
  expect(hand.suggested.value!.nodes[1]![0]).toMatchObject({ before: 50, after: 30, size: -20 })
  expect(hand.suggested.value!.nodes[0]![0]).toMatchObject({ after: 1, reason: 'as it is' })
  scope.stop()
})

test('why no plate table can be made is told, and nothing is suggested', async () => {
  const { asked, hand, scope } = setUp()
  await flushPromises()
  asked[0]!.fail(new Error('Log grip and plate together.'))
  await flushPromises()
  expect(hand.fault.value).toContain('Log grip and plate')
  expect(hand.suggested.value).toBeNull()
  scope.stop()
})

import { flushPromises } from '@vue/test-utils'
import { effectScope, ref, shallowRef } from 'vue'
import { DEFAULT_RESPONSE, respond, type MadePlate, type Response, type TableInfo } from '@yuzumix/core'
import { useHandSuggestion } from './useHandSuggestion'

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

test('only the shape asked for last is suggested, whichever answer comes last', async () => {
  const answers: ((value: MadePlate) => void)[] = []
  const info = shallowRef<TableInfo | null>(plate(VALUES))
  const scope = effectScope()
  const hand = scope.run(() =>
    useHandSuggestion(
      { response: shallowRef(nothing), plate: () => new Promise((resolve) => answers.push(resolve)) },
      info,
      ref([info.value!]),
    ),
  )!
  hand.shape.value = 'soft third'
  await flushPromises()
  expect(answers).toHaveLength(2)
  answers[1]!(made(30))
  await flushPromises()
  answers[0]!(made(70))
  await flushPromises()
  expect(hand.suggested.value!.nodes[1]![0]).toMatchObject({ before: 50, after: 30, size: -20 })
  expect(hand.suggested.value!.nodes[0]![0]).toMatchObject({ after: 1, reason: 'as it is' })
  scope.stop()
})

test('why no plate table can be made is told, and nothing is suggested', async () => {
  const info = shallowRef<TableInfo | null>(plate(VALUES))
  const scope = effectScope()
  const hand = scope.run(() =>
    useHandSuggestion(
      { response: shallowRef(nothing), plate: () => Promise.reject(new Error('Log grip and plate together.')) },
      info,
      ref([]),
    ),
  )!
  await flushPromises()
  expect(hand.fault.value).toContain('Log grip and plate')
  expect(hand.suggested.value).toBeNull()
  scope.stop()
})
